<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import { computed, ref, useId } from 'vue'

import { client, type Problem, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import MayChange from '@/kit/controls/MayChange.vue'
import { useReads } from '@/kit/state/reads'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import { useSession } from '@/kit/state/session'
import TextField from '@/kit/controls/TextField.vue'
import { i18n, t, wordsFor } from '@/words'

import BitDiagram from './BitDiagram.vue'
import { readLayout, typed } from './layout'
import LayoutLines from './LayoutLines.vue'
import type { CardFormat, ReadyMade } from './queries'

/** A format bit by bit, live on a sample read. */
const props = defineProps<{ format: CardFormat | undefined; from: CardFormat | ReadyMade }>()
const emit = defineEmits<{ done: [id: number | null] }>()

const reads = useReads()
const mayChange = useSession().may('set_up')
const id = useId()
const editor = useEditor(
  'format',
  props.format?.id,
  () => ({
    version: props.format?.version ?? 0,
    name: props.from.name,
    about: props.from.about,
    layout: typed(props.from.layout),
  }),
  { live: (): Problem[] => weighed.value?.problems ?? [] },
)
const { draft, act, problems, at } = editor
const layout = computed(() => draft.layout)
const sample = ref('')
const read = computed(() => readLayout(draft.layout))
const body = computed(() => ('layout' in read.value ? { ...draft, layout: read.value.layout } : null))
const asked = computed(() =>
  body.value ? JSON.stringify({ ...body.value, id: props.format?.id ?? null, raw: sample.value }) : '',
)
const settled = refDebounced(asked, 200)
const { data: weighed } = useQuery({
  queryKey: keyOf('cards', 'format', settled),
  queryFn: ({ signal }) =>
    unwrap(
      client.POST('/api/preview/format/', {
        body: JSON.parse(settled.value) as NonNullable<typeof body.value> & {
          id: number | null
          raw: string
        },
        signal,
      }),
    ),
  enabled: computed(() => settled.value !== ''),
  placeholderData: keepPreviousData,
  retry: false,
})

/** The problems of the layout at a place, and there what cannot be read. */
function atLayout(place: string): Problem[] {
  if ('unreadable' in read.value)
    return read.value.unreadable.includes(place)
      ? [{ code: 'format.bits_unreadable', field: null, params: {} }]
      : []
  return at(`layout.${place}`)
}
const unplaced = computed(() =>
  problems.value.filter((one) => ['layout', 'layout.fields_of_it'].includes(one.field ?? '')),
)
function wordOf(name: string) {
  const key = `cards.parts.${name}`
  return i18n.global.te(key) ? i18n.global.t(key) : name
}
const fault = computed(() => (weighed.value?.fault ? t(`cards.faults.${weighed.value.fault}`) : ''))

async function save() {
  const which = props.format?.id
  const sent = body.value
  if (!sent) return
  const saved = await act(() =>
    unwrap(
      which === undefined
        ? client.POST('/api/formats/', { body: sent })
        : client.PUT('/api/formats/{id}/', { params: { path: { id: which } }, body: sent }),
    ),
  )
  if (saved) emit('done', saved.id)
}
async function remove() {
  const which = props.format?.id
  if (which === undefined) return
  const gone = await act(async () => {
    await unwrap(client.DELETE('/api/formats/{id}/', { params: { path: { id: which } } }))
    return true
  })
  if (gone) emit('done', null)
}
</script>

<template>
  <form class="editor" @submit.prevent="save">
    <div class="row sample">
      <TextField v-model="sample" class="raw" is-mono :label="t('cards.sample')" :problems="at('raw')" />
      <Button
        size="small"
        severity="secondary"
        class="use"
        :label="t('strip.use')"
        :disabled="!reads.newest"
        @click="sample = reads.newest?.raw ?? ''"
      />
      <p v-if="fault" class="denied use" role="status">{{ fault }}</p>
      <p v-else class="use mono" role="status">
        <span v-for="one in weighed?.numbers" :key="one.name" class="value">
          {{ wordOf(one.name) }} <b>{{ one.value }}</b>
        </span>
      </p>
    </div>
    <BitDiagram :bits="weighed?.bits ?? []" />
    <MayChange :may="mayChange">
      <div class="names">
        <TextField v-model="draft.name" :label="t('setup.name')" :problems="at('name')" />
        <TextField v-model="draft.about" :label="t('cards.source')" :problems="at('source')" />
        <TextField
          v-model="layout.length"
          is-mono
          :label="t('cards.length')"
          :problems="atLayout('length_bits')"
        />
      </div>
      <LayoutLines v-model="layout" :problems-at="atLayout" :word-of="wordOf" />
      <div class="names">
        <TextField
          v-model="layout.fixed"
          is-mono
          :label="t('cards.parts.fixed')"
          :hint="t('cards.fixedHint')"
          :problems="atLayout('fixed')"
        />
        <div class="checks">
          <div>
            <Checkbox v-model="layout.is_reversed" :input-id="`${id}-r`" binary size="small" />
            <label :for="`${id}-r`">{{ t('cards.isReversed') }}</label>
          </div>
          <div>
            <Checkbox v-model="layout.is_inverted" :input-id="`${id}-i`" binary size="small" />
            <label :for="`${id}-i`">{{ t('cards.isInverted') }}</label>
          </div>
        </div>
      </div>
    </MayChange>
    <p v-for="one in unplaced" :key="one.code" class="denied" role="alert">{{ wordsFor(one) }}</p>
    <EditorFoot
      v-if="mayChange"
      :editor="editor"
      :is-unreadable="!body"
      :remove-label="format && !format.card_count ? t('cards.removeFormat') : undefined"
      @remove="remove"
    />
  </form>
</template>

<style scoped>
.editor {
  display: flex;
  flex-direction: column;
  gap: 10px;
  max-width: 860px;
}
.sample {
  flex-wrap: wrap;
  align-items: flex-start;
}
.raw {
  flex: none;
  width: 240px;
}
.use {
  margin-top: 19px;
}
.value {
  margin-right: 14px;
}
.names {
  display: grid;
  grid-template-columns: 1fr 1.4fr 90px;
  gap: 12px;
}
.checks {
  display: flex;
  flex-direction: column;
  gap: 4px;
  margin-top: 18px;
}
.checks div {
  display: flex;
  gap: 8px;
}
</style>
