<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import ToggleSwitch from 'primevue/toggleswitch'
import { computed, reactive, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import Field from '@/kit/Field.vue'
import { useSave } from '@/kit/save'
import { byName, t } from '@/words'

import { listed } from './queries'

/** Companies or kinds: one line each, edited in place. */
const props = defineProps<{ which: 'companies' | 'kinds'; mayChange: boolean }>()
type Listed = components['schemas']['Listed']

const { data, isError } = useQuery(listed(props.which))
const rows = computed(() => byName(data.value ?? [], (one) => one.name))
const { act, isBusy, at, elsewhere } = useSave(ref([]))

const edited = ref<number | 'new' | null>(null)
const draft = reactive({ version: 0, name: '', short_name: '', is_retired: false })
function edit(one: Listed | null) {
  edited.value = one?.id ?? 'new'
  Object.assign(draft, {
    version: one?.version ?? 0,
    name: one?.name ?? '',
    short_name: one?.short_name ?? '',
    is_retired: one?.is_retired ?? false,
  })
}
async function save() {
  const id = edited.value
  const isCompany = props.which === 'companies'
  const saved = await act(() => {
    if (typeof id === 'number') {
      const asked = { params: { path: { id } }, body: draft }
      return unwrap(
        isCompany ? client.PUT('/api/companies/{id}/', asked) : client.PUT('/api/kinds/{id}/', asked),
      )
    }
    return unwrap(
      isCompany
        ? client.POST('/api/companies/', { body: draft })
        : client.POST('/api/kinds/', { body: draft }),
    )
  })
  if (saved) edited.value = null
}
</script>

<template>
  <section class="list">
    <div class="row">
      <h2>{{ t(`setup.parts.${which}`) }}</h2>
      <Button
        v-if="mayChange"
        size="small"
        severity="secondary"
        class="push"
        :label="t(`setup.new.${which}`)"
        @click="edit(null)"
      />
    </div>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <p v-if="data && !data.length && edited === null" class="quiet">{{ t('setup.nothing') }}</p>
    <ul>
      <li v-if="edited !== null" class="edit">
        <form @submit.prevent="save">
          <Field v-slot="{ id, invalid, describedBy }" :label="t('setup.name')" :problems="at('name')">
            <InputText
              :id="id"
              v-model="draft.name"
              size="small"
              :invalid="invalid"
              :aria-describedby="describedBy"
            />
          </Field>
          <Field
            v-if="which === 'companies'"
            v-slot="{ id, invalid, describedBy }"
            :label="t('setup.shortName')"
            :problems="at('short_name')"
          >
            <InputText
              :id="id"
              v-model="draft.short_name"
              size="small"
              class="short"
              :invalid="invalid"
              :aria-describedby="describedBy"
            />
          </Field>
          <Field v-slot="{ labelId }" :label="t('setup.retire')">
            <ToggleSwitch v-model="draft.is_retired" :aria-labelledby="labelId" />
          </Field>
          <div class="acts">
            <Button type="submit" size="small" :label="t('common.save')" :loading="isBusy" />
            <Button
              size="small"
              severity="secondary"
              variant="text"
              :label="t('common.discard')"
              @click="edited = null"
            />
          </div>
        </form>
        <p class="denied">{{ elsewhere }}</p>
      </li>
      <li v-for="one in rows" :key="one.id" class="line">
        <span class="one-line name" :class="{ quiet: one.is_retired }">{{ one.name }}</span>
        <span v-if="which === 'companies'" class="mono quiet short">{{ one.short_name }}</span>
        <span class="quiet people">{{ t('access.members', one.people) }}</span>
        <span class="quiet retired">{{ one.is_retired ? t('setup.retired') : '' }}</span>
        <Button
          v-if="mayChange"
          size="small"
          severity="secondary"
          variant="text"
          :label="t('setup.edit')"
          :aria-label="`${t('setup.edit')}: ${one.name}`"
          @click="edit(one)"
        />
      </li>
    </ul>
  </section>
</template>

<style scoped>
.list {
  max-width: 640px;
}
.line {
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: 36px;
  border-bottom: 1px solid var(--p-cadrin-hairline);
}
.name {
  flex: 1;
}
.short {
  width: 8em;
}
.people {
  width: 7em;
}
.retired {
  width: 5em;
}
.edit {
  padding: 10px;
  margin: 8px 0;
  background: var(--p-cadrin-sheet);
  border-left: 3px solid var(--p-cadrin-teal);
}
.edit form {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 8px 14px;
}
.acts {
  padding-top: 17px;
}
</style>
