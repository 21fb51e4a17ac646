<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import Select from 'primevue/select'
import { computed, useId, useTemplateRef } from 'vue'

import { client, type Problem, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { house } from '@/api/queries'
import Field from '@/kit/controls/Field.vue'
import { useFirstField } from '@/kit/controls/first-field'
import TakenUp from '@/kit/controls/TakenUp.vue'
import { useEditor } from '@/kit/state/editor'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

/** Enter a box of cards, or a single one; which of its cards there are already stands here before. */
const emit = defineEmits<{ done: [] }>()
const queries = useQueryClient()
const { data: choices } = useQuery(house)
const id = useId()

/** The next box is mostly of the same kind as the last one. */
const props = defineProps<{ last: { format: number; facility_code: number } | undefined }>()
const editor = useEditor(
  'box',
  undefined,
  () => ({
    format: props.last?.format ?? null,
    facility_code: props.last ? String(props.last.facility_code) : '',
    first: '',
    last: '',
    kept_where: '',
    remarks: '',
    leaves_out: false,
  }),
  { live: (): Problem[] => found.value?.problems ?? [] },
)
const { draft, act, isBusy, at, elsewhere, isTakenUp, isDirty } = editor
const whole = (text: string) => (/^\d{1,18}$/.test(text.trim()) ? Number(text) : null)
/** A single card has no last number of its own. */
const body = computed(() => {
  const [first, facility_code] = [whole(draft.first), whole(draft.facility_code || '0')]
  const last = draft.last.trim() ? whole(draft.last) : first
  if (draft.format === null || first === null || last === null || facility_code === null) return null
  return { ...draft, format: draft.format, first, last, facility_code }
})
const asked = computed(() => (body.value ? JSON.stringify(body.value) : ''))
const settled = refDebounced(asked, 200)
const { data: weighed } = useQuery({
  queryKey: keyOf('cards', 'box', settled),
  queryFn: ({ signal }) =>
    unwrap(
      client.POST('/api/preview/box/', {
        body: JSON.parse(settled.value) as NonNullable<typeof body.value>,
        signal,
      }),
    ),
  enabled: computed(() => settled.value !== ''),
  placeholderData: keepPreviousData,
  retry: false,
})
const found = computed(() => (body.value ? weighed.value : undefined))
const form = useTemplateRef('form')
useFirstField(form)

function cancel() {
  editor.discard()
  emit('done')
}
async function save() {
  const sent = body.value
  if (!sent) return
  const saved = await act(() => unwrap(client.POST('/api/boxes/', { body: sent })))
  if (!saved) return
  await queries.invalidateQueries({ queryKey: keyOf('boxes') })
  emit('done')
}
</script>

<template>
  <form ref="form" class="box-editor" @submit.prevent="save">
    <TakenUp v-if="isTakenUp && isDirty" />
    <div class="fields">
      <Field v-slot="{ labelId, invalid }" :label="t('file.format')" :problems="at('format')">
        <Select
          v-model="draft.format"
          :options="choices?.formats ?? []"
          option-label="name"
          option-value="id"
          size="small"
          :invalid="invalid"
          :aria-labelledby="labelId"
        />
      </Field>
      <TextField
        v-model="draft.facility_code"
        is-mono
        :label="t('file.facility_code')"
        :problems="at('facility_code')"
      />
      <TextField v-model="draft.first" is-mono :label="t('stock.first')" :problems="at('first')" />
      <TextField
        v-model="draft.last"
        is-mono
        :label="t('stock.last')"
        :hint="t('stock.lastHint')"
        :problems="at('last')"
      />
      <TextField v-model="draft.kept_where" :label="t('stock.keptWhere')" :problems="at('kept_where')" />
      <TextField v-model="draft.remarks" :label="t('file.remarks')" :problems="at('remarks')" />
    </div>
    <div v-if="found?.there_count" class="note">
      <p>{{ t('stock.there', found.there_count) }}</p>
      <ul class="there">
        <li v-for="one in found.there" :key="one.card">
          <span class="mono">{{ one.card }}</span> {{ t(`statuses.${one.status}`) }}
          <RouterLink v-if="one.holder_id" :to="{ name: 'cardholder', params: { id: one.holder_id } }">
            {{ one.holder_name }}
          </RouterLink>
        </li>
      </ul>
      <p v-if="found.there_count > found.there.length" class="quiet">
        {{ t('common.more', { count: found.there_count - found.there.length }) }}
      </p>
      <div class="row">
        <Checkbox v-model="draft.leaves_out" :input-id="id" binary size="small" />
        <label :for="id">{{ t('stock.leaveOut') }}</label>
      </div>
    </div>
    <div class="row">
      <Button
        type="submit"
        size="small"
        :label="found ? t('stock.make', found.makes) : t('stock.enter')"
        :loading="isBusy"
        :disabled="!body || found?.makes === 0"
      />
      <Button size="small" severity="secondary" variant="text" :label="t('common.cancel')" @click="cancel" />
      <span class="denied" role="alert">{{ elsewhere }}</span>
    </div>
  </form>
</template>

<style scoped>
.box-editor {
  display: flex;
  flex-direction: column;
  gap: 10px;
  margin-bottom: 18px;
}
.fields {
  display: grid;
  grid-template-columns: 170px repeat(3, 120px) 1fr 1fr;
  align-items: start;
  gap: 10px;
}
.note {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 8px 10px;
  border-left: 3px solid var(--p-cadrin-lit);
  background: var(--p-cadrin-amber-paper);
}
.there {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  max-height: 160px;
  overflow: auto;
}
</style>
