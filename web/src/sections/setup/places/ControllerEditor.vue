<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import { useSave } from '@/kit/state/save'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import { search } from '../queries'
import ControllerLimits from './ControllerLimits.vue'
import type { Controller, Places } from './places'
import ReaderNames from './ReaderNames.vue'
import RemoveButton from './RemoveButton.vue'

const props = defineProps<{ controller: Controller; places: Places; mayChange: boolean }>()
const emit = defineEmits<{ done: [id: number | null] }>()
const replacing = useSave()

const { version, name, address, limits, knows_one_group } = props.controller
const editor = useEditor('controller', props.controller.id, () => ({
  version,
  name,
  address,
  limits: { ...limits },
  knows_one_group,
}))
const { draft, act, at } = editor
const other = ref('')
const { data: answering } = useQuery({ ...search, enabled: props.mayChange && !props.controller.is_desk })
const waiting = computed(() => answering.value?.filter((one) => !one.is_claimed) ?? [])
const path = () => ({ params: { path: { id: props.controller.id } } })
const readers = computed(() =>
  props.places.readers.filter((one) => one.controller_id === props.controller.id),
)

async function save() {
  await act(() => unwrap(client.PUT('/api/controllers/{id}/', { ...path(), body: draft })).then(() => true))
}
async function replace() {
  const body = { version: props.controller.version, address: other.value }
  const isDone = await replacing.act(() =>
    unwrap(client.POST('/api/controllers/{id}/replacement/', { ...path(), body })).then(() => true),
  )
  if (isDone) other.value = ''
}
const retire = () => act(() => unwrap(client.DELETE('/api/controllers/{id}/', path())).then(() => true))
</script>

<template>
  <div class="editor">
    <form class="editor" @submit.prevent="save">
      <h2>{{ controller.name }}</h2>
      <p v-if="controller.is_desk" class="quiet">{{ t('places.deskOnly') }}</p>
      <TextField v-model="draft.name" :label="t('places.name')" :problems="at('name')" />
      <TextField v-model="draft.address" is-mono :label="t('places.address')" :problems="at('address')" />
      <ControllerLimits
        v-if="!controller.is_desk"
        v-model="draft.limits"
        v-model:knows-one-group="draft.knows_one_group"
        :at="at"
      />
      <EditorFoot v-if="mayChange" :editor="editor" />
    </form>
    <ReaderNames :readers="readers" :doors="places.doors" :may-change="mayChange" />
    <form v-if="mayChange && !controller.is_desk" class="replace" @submit.prevent="replace">
      <h3>{{ t('places.replace') }}</h3>
      <p class="quiet">{{ t('places.replaceHint') }}</p>
      <p v-if="waiting.length" class="row">
        <Button
          v-for="one in waiting"
          :key="one.address"
          size="small"
          severity="secondary"
          variant="outlined"
          :label="one.name"
          @click="other = one.address"
        />
      </p>
      <TextField v-model="other" is-mono :label="t('places.address')" :problems="replacing.at('address')" />
      <div class="row">
        <Button
          type="submit"
          size="small"
          severity="secondary"
          :label="t('places.replaceNow')"
          :loading="replacing.isBusy.value"
          :disabled="!other.trim()"
        />
        <span class="denied" role="alert">{{ replacing.elsewhere.value }}</span>
      </div>
    </form>
    <RemoveButton
      v-if="mayChange"
      :label="t('places.retire')"
      :question="t('places.retireAsk', { name: controller.name })"
      :remove="retire"
      @removed="emit('done', null)"
    />
  </div>
</template>

<style scoped>
.replace {
  display: flex;
  flex-direction: column;
  gap: 6px;
  margin-top: 14px;
  padding-top: 10px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
</style>
