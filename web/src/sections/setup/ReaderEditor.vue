<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import Checkbox from 'primevue/checkbox'
import { computed, onMounted, useTemplateRef } from 'vue'

import { client, type House, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { schedules } from '@/api/queries'
import Field from '@/kit/controls/Field.vue'
import MultiSelect from '@/kit/controls/multi-select'
import NumberField from '@/kit/controls/NumberField.vue'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import { t } from '@/words'

import PolicyByHours from './PolicyByHours.vue'
import PolicyField from './PolicyField.vue'
import { falseMatchWords } from './false-matches'
import { biometricRules } from './queries'

/** What one reader asks for, and the formats it can read. */
const props = defineProps<{ reader: House['readers'][number]; formats: House['formats'] }>()
const emit = defineEmits<{ done: [] }>()

/** Beneath the line of the reader, which may be the last on the page. */
const form = useTemplateRef('form')
onMounted(() => form.value?.closest('li')?.scrollIntoView({ block: 'start' }))

const { policy, has_keypad, has_camera, has_finger_scanner, is_way_out, format_ids, version } = props.reader
const { data: allSchedules } = useQuery(schedules)
const { data: biometrics } = useQuery(biometricRules)
const usualMatch = computed(() => biometrics.value?.rule.match.toFixed(2) ?? '')
const usualDistance = computed(() => biometrics.value?.face_rule.match.toFixed(2) ?? '')
const matchOf = (own: number | null, usual = 0) => (own === null ? usual : own / 100)
const editor = useEditor('reader', props.reader.id, () => ({
  version,
  policy: policy.map((together) => [...together]),
  has_keypad,
  has_camera,
  has_finger_scanner,
  finger_match: props.reader.finger_match,
  has_face_reader: props.reader.has_face_reader,
  face_match: props.reader.face_match,
  by_hours: props.reader.by_hours.map((one) => ({
    schedule: one.schedule,
    policy: one.policy.map((together) => [...together]),
  })),
  is_way_out,
  format_ids: [...format_ids],
}))
const { draft, act, isDirty, at } = editor

const sides = [false, true].map((value) => ({
  value,
  word: t(`readersSetup.sides.${value ? 'out' : 'in'}`),
}))

const settled = refDebounced(
  computed(() => JSON.stringify(draft)),
  200,
)
const { data: weighed } = useQuery({
  queryKey: keyOf('setup', 'reader', props.reader.id, settled),
  queryFn: ({ signal }) =>
    unwrap(
      client.POST('/api/preview/reader/{id}/', {
        params: { path: { id: props.reader.id } },
        body: JSON.parse(settled.value) as typeof draft,
        signal,
      }),
    ),
  enabled: isDirty,
  placeholderData: keepPreviousData,
})
const moreWords = (more: number) => (more ? t('common.more', { count: more }) : '')
/** What people would lack once this is saved, or no longer. */
const effects = computed(() => {
  if (!isDirty.value || !weighed.value) return []
  const { without_pin, without_finger, without_face, without_readable_card, has_way_in, who, more } =
    weighed.value
  return [
    !has_way_in && t('readersSetup.noWayIn'),
    without_pin > 0 && t('readersSetup.needPin', without_pin),
    without_pin < 0 && t('readersSetup.needNoPin', -without_pin),
    without_finger > 0 && t('readersSetup.needFinger', without_finger),
    without_finger < 0 && t('readersSetup.needNoFinger', -without_finger),
    without_face > 0 && t('readersSetup.needFace', without_face),
    without_face < 0 && t('readersSetup.needNoFace', -without_face),
    without_readable_card > 0 && t('readersSetup.unread', without_readable_card),
    without_readable_card < 0 && t('readersSetup.readAgain', -without_readable_card),
    who.length > 0 && `${t('readersSetup.who', { names: who.join(', ') })} ${moreWords(more)}`,
  ].filter((words) => words !== false)
})
async function save() {
  const done = await act(async () => {
    await unwrap(client.PUT('/api/readers/{id}/', { params: { path: { id: props.reader.id } }, body: draft }))
    return true
  })
  if (done) emit('done')
}
</script>

<template>
  <form ref="form" class="editor" @submit.prevent="save">
    <label class="row keypad" :for="`keypad-${reader.id}`">
      <Checkbox v-model="draft.has_keypad" binary :input-id="`keypad-${reader.id}`" />
      {{ t('readersSetup.keypad') }}
    </label>
    <label v-if="!reader.is_desk" class="row keypad" :for="`camera-${reader.id}`">
      <Checkbox v-model="draft.has_camera" binary :input-id="`camera-${reader.id}`" />
      {{ t('readersSetup.camera') }}
    </label>
    <label class="row keypad" :for="`scanner-${reader.id}`">
      <Checkbox v-model="draft.has_finger_scanner" binary :input-id="`scanner-${reader.id}`" />
      {{ t('readersSetup.fingerScanner') }}
    </label>
    <label class="row keypad" :for="`face-${reader.id}`">
      <Checkbox v-model="draft.has_face_reader" binary :input-id="`face-${reader.id}`" />
      {{ t('readersSetup.faceReader') }}
    </label>
    <SelectField
      v-if="!reader.is_desk"
      v-model="draft.is_way_out"
      class="side"
      :label="t('readersSetup.side')"
      :options="sides"
      :problems="at('is_way_out')"
    />
    <PolicyField
      v-model="draft.policy"
      :has-camera="draft.has_camera"
      :has-finger-scanner="draft.has_finger_scanner"
      :has-face-reader="draft.has_face_reader"
      :problems="at('policy')"
    />
    <NumberField
      v-if="draft.has_finger_scanner && !reader.is_desk"
      v-model="draft.finger_match"
      class="match"
      :label="t('readersSetup.fingerMatch')"
      :hint="falseMatchWords(biometrics, 'finger', matchOf(draft.finger_match, biometrics?.rule.match))"
      :placeholder="t('readersSetup.usualMatch', { match: usualMatch })"
      :problems="at('finger_match')"
    />
    <NumberField
      v-if="draft.has_face_reader && !reader.is_desk"
      v-model="draft.face_match"
      class="match"
      :label="t('readersSetup.faceMatch')"
      :hint="falseMatchWords(biometrics, 'face', matchOf(draft.face_match, biometrics?.face_rule.match))"
      :placeholder="t('readersSetup.usualMatch', { match: usualDistance })"
      :problems="at('face_match')"
    />
    <Field v-slot="{ labelId }" :label="t('readersSetup.formats')" :problems="at('formats')">
      <MultiSelect
        v-model="draft.format_ids"
        :options="formats"
        option-label="name"
        option-value="id"
        size="small"
        class="formats"
        :placeholder="t('readersSetup.allFormats')"
        :aria-labelledby="labelId"
      />
    </Field>
    <PolicyByHours
      v-if="!reader.is_desk"
      v-model="draft.by_hours"
      :schedules="allSchedules ?? []"
      :has-camera="draft.has_camera"
      :has-finger-scanner="draft.has_finger_scanner"
      :has-face-reader="draft.has_face_reader"
      :problems="at('by_hours')"
    />
    <EditorFoot :editor="editor" />
    <p v-for="words in effects" :key="words" class="effect" role="status">{{ words }}</p>
  </form>
</template>

<style scoped>
.editor {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 8px 16px;
  padding: 6px 8px 12px;
  background: var(--p-cadrin-teal-paper);
}
.keypad {
  margin-top: 22px;
}
.side {
  width: 130px;
}
.match {
  width: 230px;
}
.formats {
  width: 230px;
}
.effect {
  width: 100%;
  padding: 4px 8px;
  border-left: 3px solid var(--p-cadrin-lit);
  background: var(--p-cadrin-amber-paper);
}
.save {
  margin-top: 18px;
}
</style>
