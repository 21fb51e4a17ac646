<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { client, type House, type Problem, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { whenWords } from '@/kit/time/clock'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { under } from '@/kit/state/parts'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import FaceCapturePanel from './FaceCapturePanel.vue'
import FaceItem from './FaceItem.vue'
import { type Biometrics, type FaceCapture, NO_TERMS, type Template } from './fingers'

/** The faces of a cardholder: with glasses and without, and whether the portrait still looks like them. */
const props = defineProps<{
  id: number | null
  portrait: string | null
  readers: House['readers']
  templates: Template[]
  hasConsent: boolean
  problems: Problem[]
}>()
const theirs = defineModel<Biometrics>({ required: true })

const may = useSession().may('biometrics')
const isTaking = ref(false)
/** What was taken on this page and is not saved yet, by its token. */
const taken = ref<Record<string, FaceCapture>>({})
const faces = computed(() => theirs.value.faces ?? [])
const ofAll = computed(() => props.problems.filter((one) => one.field === 'faces'))
const templateOf = (id: number | null | undefined) => props.templates.find((one) => one.id === id)

const { data: likeness } = useQuery({
  queryKey: keyOf(
    'cardholders',
    'likeness',
    () => props.id,
    () => props.portrait,
  ),
  queryFn: ({ signal }) =>
    unwrap(
      client.GET('/api/cardholders/{id}/faces/likeness/', {
        params: { path: { id: props.id ?? 0 }, query: { image: props.portrait ?? '' } },
        signal,
      }),
    ),
  enabled: computed(() => props.id !== null && !!props.portrait && faces.value.some((one) => one.id)),
})
function use(capture: FaceCapture) {
  taken.value[capture.token] = capture
  theirs.value.faces = [
    ...faces.value,
    { id: null, ...NO_TERMS, capture: capture.token, despite_match: false },
  ]
  isTaking.value = false
}
function remove(place: number) {
  theirs.value.faces = faces.value.filter((_, at) => at !== place)
}
</script>

<template>
  <div id="faces" class="faces">
    <div class="row head">
      <h3>{{ t('faces.title') }}</h3>
      <Button
        v-if="may && !isTaking"
        size="small"
        severity="secondary"
        :label="t(faces.length ? 'faces.another' : 'faces.add')"
        :disabled="!hasConsent"
        @click="isTaking = true"
      />
      <span v-if="!faces.length && !isTaking" class="quiet">{{ t('faces.none') }}</span>
    </div>
    <ul>
      <FaceItem
        v-for="(face, place) in faces"
        :key="face.id ?? face.capture"
        v-model="faces[place]!"
        :place="place"
        :capture="taken[face.capture ?? '']"
        :about="
          templateOf(face.id)
            ? t('fingers.takenBy', {
                when: whenWords(templateOf(face.id)!.taken_at),
                name: templateOf(face.id)!.taken_by,
              })
            : t('fingers.notSaved')
        "
        :quality="templateOf(face.id)?.quality ?? taken[face.capture ?? '']?.quality ?? null"
        :problems="under(problems, `faces.${place}`)"
        @remove="remove(place)"
      />
    </ul>
    <FaceCapturePanel
      v-if="isTaking"
      :id="id"
      :portrait="portrait"
      :readers="readers"
      @taken="use"
      @cancel="isTaking = false"
    />
    <FieldProblem id="faces-problem" :problems="ofAll" />
    <p v-if="likeness?.is_alike === false" class="unlike" role="status">{{ t('faces.unlike') }}</p>
  </div>
</template>

<style scoped>
.faces {
  margin: 10px 0;
}
.head {
  flex-wrap: wrap;
}
.unlike {
  padding: 4px 8px;
  border-left: 3px solid var(--p-cadrin-lit);
  background: var(--p-cadrin-amber-paper);
}
</style>
