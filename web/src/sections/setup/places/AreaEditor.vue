<script setup lang="ts">
import Button from 'primevue/button'
import { reactive, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { useSave } from '@/kit/save'
import SelectField from '@/kit/SelectField.vue'
import TextField from '@/kit/TextField.vue'
import { t } from '@/words'

import type { Area, Site } from './places'
import RemoveButton from './RemoveButton.vue'

const props = defineProps<{
  area: Area | undefined
  sites: Site[]
  within: number | undefined
  mayChange: boolean
}>()
const emit = defineEmits<{ done: [id: number | null] }>()
const { act, isBusy, at, elsewhere } = useSave(ref([]))

const draft = reactive({
  version: props.area?.version ?? 0,
  name: props.area?.name ?? '',
  site_id: props.area?.site_id ?? props.within ?? props.sites[0]?.id ?? 0,
})

async function save() {
  const id = props.area?.id
  const saved = await act(() =>
    unwrap(
      id === undefined
        ? client.POST('/api/areas/', { body: draft })
        : client.PUT('/api/areas/{id}/', { params: { path: { id } }, body: draft }),
    ),
  )
  if (saved) emit('done', saved.id)
}
const path = () => ({ params: { path: { id: props.area?.id ?? 0 } } })
const remove = () => act(() => unwrap(client.DELETE('/api/areas/{id}/', path())).then(() => true))
</script>

<template>
  <form class="editor" @submit.prevent="save">
    <h2>{{ area?.name ?? t('places.newArea') }}</h2>
    <TextField v-model="draft.name" :label="t('places.name')" :problems="at('name')" />
    <SelectField
      v-model="draft.site_id"
      :label="t('places.site')"
      :options="sites"
      option-label="name"
      option-value="id"
      :problems="at('site_id')"
    />
    <div v-if="mayChange" class="row">
      <Button type="submit" size="small" :label="t('common.save')" :loading="isBusy" />
      <span class="denied" role="alert">{{ elsewhere }}</span>
    </div>
    <RemoveButton
      v-if="mayChange && area"
      :label="t('places.removeArea')"
      :question="t('places.removeAsk', { name: area.name })"
      :remove="remove"
      @removed="emit('done', null)"
    />
  </form>
</template>
