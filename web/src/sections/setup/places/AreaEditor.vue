<script setup lang="ts">
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import NumberField from '@/kit/controls/NumberField.vue'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import type { Area, Door, Site } from './places'
import RemoveButton from './RemoveButton.vue'

const props = defineProps<{
  area: Area | undefined
  sites: Site[]
  doors: Door[]
  within: number | undefined
  mayChange: boolean
}>()
const emit = defineEmits<{ done: [id: number | null] }>()

const editor = useEditor('area', props.area?.id, () => ({
  version: props.area?.version ?? 0,
  name: props.area?.name ?? '',
  site_id: props.area?.site_id ?? props.within ?? props.sites[0]?.id ?? 0,
  passback: props.area?.passback ?? ('none' as const),
  forgiven_after_minutes: props.area?.forgiven_after_minutes ?? null,
  most: props.area?.most ?? null,
}))
const { draft, act, at } = editor
const passbacks = (['none', 'soft', 'hard'] as const).map((value) => ({
  value,
  word: t(`doing.passbacks.${value}`),
}))

/** The doors that go along to another site. */
const moving = computed(() =>
  props.area && draft.site_id !== props.area.site_id
    ? props.doors.filter((one) => one.area_id === props.area?.id).map((one) => one.name)
    : null,
)

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
    <p v-if="moving" class="quiet" role="status">
      {{ t('places.areaMoves', { names: moving.join(', ') || t('places.noDoors') }) }}
    </p>
    <h3>{{ t('doing.counting') }}</h3>
    <SelectField
      v-model="draft.passback"
      :label="t('doing.passback')"
      :options="passbacks"
      :hint="draft.passback === 'none' ? undefined : t('doing.passbackHint')"
      :problems="at('passback')"
    />
    <NumberField
      v-if="draft.passback !== 'none' || draft.most !== null"
      v-model="draft.forgiven_after_minutes"
      :label="t('doing.forgivenAfter')"
      :placeholder="t('doing.never')"
      :problems="at('forgiven_after_minutes')"
    />
    <NumberField
      v-model="draft.most"
      :label="t('doing.most')"
      :placeholder="t('doing.anyNumber')"
      :problems="at('most')"
    />
    <EditorFoot v-if="mayChange" :editor="editor" />
    <RemoveButton
      v-if="mayChange && area"
      :label="t('places.removeArea')"
      :question="t('places.removeAsk', { name: area.name })"
      :remove="remove"
      @removed="emit('done', null)"
    />
  </form>
</template>
