<script setup lang="ts">
import { Check, Pencil, X } from '@lucide/vue'
import Button from 'primevue/button'
import { useConfirm } from 'primevue/useconfirm'
import { ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { useSave } from '@/kit/state/save'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import type { Door, Reader } from './places'

/** The readers of a controller, each renamed in place; one that stands at no door can be removed. */
const props = defineProps<{ readers: Reader[]; doors: Door[]; mayChange: boolean }>()
const { act, isBusy, at, elsewhere } = useSave()
const open = ref<number | null>(null)
const name = ref('')

const doorName = (id: number | null) => props.doors.find((one) => one.id === id)?.name
function edit(reader: Reader) {
  open.value = reader.id
  name.value = reader.name
}
const path = (reader: Reader) => ({ params: { path: { id: reader.id } } })
async function rename(reader: Reader) {
  const body = { version: reader.version, name: name.value }
  const isDone = await act(() =>
    unwrap(client.PUT('/api/readers/{id}/name/', { ...path(reader), body })).then(() => true),
  )
  if (isDone) open.value = null
}
const confirm = useConfirm()
function remove(reader: Reader) {
  confirm.require({
    header: t('places.removeReader', { name: reader.name }),
    message: t('places.removeReaderAsk'),
    acceptLabel: t('common.remove'),
    rejectLabel: t('common.cancel'),
    acceptProps: { severity: 'danger' },
    accept: () => void act(() => unwrap(client.DELETE('/api/readers/{id}/name/', path(reader)))),
  })
}
</script>

<template>
  <h3>{{ t('places.readers') }}</h3>
  <p v-if="!readers.length" class="quiet">{{ t('places.readersOfIt') }}</p>
  <p v-if="elsewhere" class="denied" role="alert">{{ elsewhere }}</p>
  <ul>
    <li v-for="reader in readers" :key="reader.id" class="reader">
      <form v-if="open === reader.id" class="row" @submit.prevent="rename(reader)">
        <TextField v-model="name" class="grow" :label="t('places.name')" :problems="at('name')" />
        <Button type="submit" size="small" :aria-label="t('common.save')" :loading="isBusy"
          ><Check :size="14" aria-hidden="true"
        /></Button>
      </form>
      <template v-else>
        <span class="one-line" :title="reader.name">{{ reader.name }}</span>
        <span class="quiet">{{
          reader.door_id === null
            ? t('places.atNoDoor')
            : t('places.atDoor', { door: doorName(reader.door_id) ?? '' })
        }}</span>
        <span class="quiet">{{ reader.plug === null ? '' : t('places.plug', { number: reader.plug }) }}</span>
        <span v-if="mayChange" class="row">
          <button
            type="button"
            class="icon"
            :aria-label="t('places.rename', { name: reader.name })"
            @click="edit(reader)"
          >
            <Pencil :size="14" aria-hidden="true" />
          </button>
          <button
            v-if="reader.door_id === null"
            type="button"
            class="icon"
            :aria-label="t('places.removeReader', { name: reader.name })"
            @click="remove(reader)"
          >
            <X :size="14" aria-hidden="true" />
          </button>
        </span>
      </template>
    </li>
  </ul>
</template>

<style scoped>
.reader {
  display: grid;
  grid-template-columns: 1.4fr 1fr 70px 52px;
  gap: 8px;
  align-items: center;
  min-height: 30px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.reader form {
  grid-column: 1 / -1;
  padding: 4px 0;
  align-items: flex-end;
}
.grow {
  flex: 1;
}
</style>
