<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import { schedules } from '@/api/queries'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import type { Site } from './places'
import RemoveButton from './RemoveButton.vue'

const props = defineProps<{ site: Site | undefined; mayChange: boolean }>()
const emit = defineEmits<{ done: [id: number | null] }>()

const editor = useEditor('site', props.site?.id, () => ({
  version: props.site?.version ?? 0,
  name: props.site?.name ?? '',
  zone: props.site?.zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone,
}))
const { draft, act, at } = editor
const zones = [...new Set([draft.zone, ...Intl.supportedValuesOf('timeZone')])].map((value) => ({
  value,
  word: value.replaceAll('_', ' '),
}))

const { data: allSchedules } = useQuery(schedules)
/** The schedules that stay by the old zone, as each has its own. */
const staying = computed(() =>
  props.site && draft.zone !== props.site.zone
    ? (allSchedules.value ?? []).filter((one) => one.zone === props.site?.zone).map((one) => one.name)
    : null,
)

async function save() {
  const id = props.site?.id
  const saved = await act(() =>
    unwrap(
      id === undefined
        ? client.POST('/api/sites/', { body: draft })
        : client.PUT('/api/sites/{id}/', { params: { path: { id } }, body: draft }),
    ),
  )
  if (saved) emit('done', saved.id)
}
const path = () => ({ params: { path: { id: props.site?.id ?? 0 } } })
const remove = () => act(() => unwrap(client.DELETE('/api/sites/{id}/', path())).then(() => true))
</script>

<template>
  <form class="editor" @submit.prevent="save">
    <h2>{{ site?.name ?? t('places.newSite') }}</h2>
    <TextField v-model="draft.name" :label="t('places.name')" :problems="at('name')" />
    <SelectField
      v-model="draft.zone"
      :label="t('places.zone')"
      :options="zones"
      filter
      :hint="t('places.zoneHint')"
      :problems="at('zone')"
    />
    <p v-if="staying" class="quiet" role="status">
      {{ t('places.zoneMoves', { zone: site?.zone ?? '' }) }}
      <template v-if="staying.length">{{
        t('places.schedulesStay', { names: staying.join(', ') })
      }}</template>
    </p>
    <EditorFoot v-if="mayChange" :editor="editor" />
    <RemoveButton
      v-if="mayChange && site"
      :label="t('places.removeSite')"
      :question="t('places.removeAsk', { name: site.name })"
      :remove="remove"
      @removed="emit('done', null)"
    />
  </form>
</template>
