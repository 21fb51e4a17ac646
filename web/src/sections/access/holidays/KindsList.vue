<script setup lang="ts">
import { Plus, X } from '@lucide/vue'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'

import { client, unwrap } from '@/api/client'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { useSave } from '@/kit/state/save'
import { t } from '@/words'

import type { Kind } from './holidays'

/** The kinds of holiday, each renamed in place. */
defineProps<{ kinds: Kind[]; mayEdit: boolean }>()
const { act, at, elsewhere } = useSave()
const fresh = ref('')

const path = (kind: Kind) => ({ params: { path: { id: kind.id } } })
async function add() {
  const body = { version: 0, name: fresh.value }
  if (await act(() => unwrap(client.POST('/api/holidays/kinds/', { body })))) fresh.value = ''
}
const rename = (kind: Kind, name: string) =>
  name !== kind.name &&
  act(() =>
    unwrap(client.PUT('/api/holidays/kinds/{id}/', { ...path(kind), body: { version: kind.version, name } })),
  )
const remove = (kind: Kind) =>
  act(() => unwrap(client.DELETE('/api/holidays/kinds/{id}/', path(kind))).then(() => true))
</script>

<template>
  <section class="kinds" :aria-label="t('holidays.kinds')">
    <h3>{{ t('holidays.kinds') }}</h3>
    <ul>
      <li v-for="kind in kinds" :key="`${kind.id} ${kind.version}`" class="row">
        <InputText
          :default-value="kind.name"
          size="small"
          :disabled="!mayEdit"
          :aria-label="t('holidays.kindCalled', { name: kind.name })"
          @change="rename(kind, ($event.target as HTMLInputElement).value)"
        />
        <button
          v-if="mayEdit"
          type="button"
          :aria-label="t('holidays.removeDay', { name: kind.name })"
          @click="remove(kind)"
        >
          <X :size="14" aria-hidden="true" />
        </button>
      </li>
    </ul>
    <form v-if="mayEdit" class="row" @submit.prevent="add">
      <InputText
        v-model="fresh"
        size="small"
        :placeholder="t('holidays.newKind')"
        :aria-label="t('holidays.newKind')"
      />
      <button type="submit" :aria-label="t('holidays.addKind')" :disabled="!fresh.trim()">
        <Plus :size="14" aria-hidden="true" />
      </button>
    </form>
    <FieldProblem id="kind-problem" :problems="at('name')" />
    <p v-if="elsewhere" class="denied" role="alert">{{ elsewhere }}</p>
  </section>
</template>

<style scoped>
.kinds {
  padding: 8px 0 12px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.kinds :deep(input) {
  flex: 1;
  min-width: 0;
}
li {
  padding: 2px 0;
}
button {
  padding: 3px;
  border: 0;
  background: none;
  color: var(--p-cadrin-teal);
  cursor: pointer;
}
button:disabled {
  opacity: 0.35;
}
</style>
