<script setup lang="ts">
import { Ellipsis, House, Repeat2, Undo2 } from '@lucide/vue'
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, ref, useId } from 'vue'

import type { CardDraft, House as HouseChoices, Problem } from '@/api/client'
import { coming } from '@/api/queries'
import { cardWords } from '@/kit/card'
import Field from '@/kit/Field.vue'
import InstantField from '@/kit/InstantField.vue'
import NumberField from '@/kit/NumberField.vue'
import SelectField from '@/kit/SelectField.vue'
import TextField from '@/kit/TextField.vue'
import { cardQuery } from '@/kit/use-read'
import { t } from '@/words'

import CardHours from './CardHours.vue'
import { termsOf } from './terms'

/** One card of a cardholder: its numbers, status and time, and beneath, what else is said of it. */
const props = defineProps<{ formats: HouseChoices['formats']; problems: Problem[] }>()
const card = defineModel<CardDraft>({ required: true })
const emit = defineEmits<{ giveBack: []; replace: [] }>()

const queries = useQueryClient()
const NOT_TYPED = -1
const MORE = ['label', 'is_watched', 'use_limit', 'hours', 'issue_level']
const id = useId()
const statuses = (['issued', 'suspended', 'lost', 'stolen', 'damaged'] as const).map((value) => ({
  value,
  word: t(`statuses.${value}`),
}))
const at = (field: string) => props.problems.filter((one) => one.field === field)
const shown = (value: number) => (value === NOT_TYPED ? '' : String(value))
function numberIn(typed: string | undefined): number {
  const digits = (typed ?? '').replace(/\D/g, '')
  return digits ? Number(digits) : NOT_TYPED
}
/** One that is lost, stolen or damaged is not back in stock because it is taken off the file. */
const giveBackWords = computed(() =>
  t(['issued', 'suspended'].includes(card.value.status) ? 'file.returnCard' : 'file.giveUpCard'),
)
const words = computed(() => cardWords({ raw: '', ...card.value }))
const highestLevel = computed(
  () => props.formats.find((one) => one.id === card.value.format)?.highest_issue_level ?? null,
)
const isOpen = ref(false)
const isUnfolded = computed(
  () => isOpen.value || props.problems.some((one) => MORE.includes(one.field ?? '')),
)
const said = computed(() => termsOf(card.value))
async function leaveAtHome() {
  const { morning } = await queries.fetchQuery(coming)
  card.value.status = 'suspended'
  card.value.suspended_until = morning
}
</script>

<template>
  <li class="card">
    <div class="fields">
      <SelectField
        v-model="card.format"
        class="format"
        :label="t('file.format')"
        :options="formats"
        option-label="name"
        option-value="id"
        :problems="at('format')"
      />
      <Field
        v-for="name in ['facility_code', 'card_number'] as const"
        :key="name"
        v-slot="{ id: field, invalid, describedBy }"
        :label="t(`file.${name}`)"
        :problems="at(name)"
        class="number"
      >
        <InputText
          :id="field"
          :model-value="shown(card[name])"
          size="small"
          class="mono"
          inputmode="numeric"
          autocomplete="off"
          :invalid="invalid"
          :aria-describedby="describedBy"
          @update:model-value="card[name] = numberIn($event)"
        />
      </Field>
      <SelectField
        v-model="card.status"
        class="status"
        :label="t('file.status')"
        :options="statuses"
        :problems="at('status')"
      />
      <InstantField
        v-if="card.status === 'suspended'"
        v-model="card.suspended_until"
        :label="t('cardTerms.backAt')"
        :empty="t('cardTerms.notByItself')"
        :problems="at('suspended_until')"
      />
      <InstantField v-model="card.activation_at" :label="t('file.cardFrom')" :empty="t('common.atOnce')" />
      <InstantField
        v-model="card.expiry_at"
        :label="t('file.cardTo')"
        is-end
        :empty="t('common.noEnd')"
        :problems="at('expiry_at')"
      />
    </div>
    <div v-if="isUnfolded" class="fields">
      <TextField v-model="card.label" class="label" :label="t('cardTerms.label')" :problems="at('label')" />
      <NumberField
        v-model="card.use_limit"
        class="few"
        :label="t('cardTerms.useLimit')"
        :placeholder="t('cardTerms.noLimit')"
        :problems="at('use_limit')"
      />
      <NumberField
        v-if="highestLevel !== null"
        v-model="card.issue_level"
        class="few"
        :label="t('cardTerms.issueLevel')"
        :placeholder="t('cardTerms.anyLevel')"
        :problems="at('issue_level')"
      />
      <CardHours v-model="card.hours" :problems="at('hours')" />
      <label class="row watched" :for="`${id}-watched`">
        <Checkbox v-model="card.is_watched" binary :input-id="`${id}-watched`" />
        {{ t('cardTerms.watch') }}
      </label>
    </div>
    <div class="row acts">
      <span v-if="said" class="said">{{ said }}</span>
      <RouterLink
        v-if="card.card_number >= 0"
        class="life"
        :to="{ name: 'cards', params: { part: 'life' }, query: { card: cardQuery(card) } }"
      >
        {{ t('life.short') }}
      </RouterLink>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('cardTerms.more')"
        :aria-expanded="isUnfolded"
        :aria-label="`${t('cardTerms.more')}: ${words}`"
        @click="isOpen = !isOpen"
      >
        <template #icon><Ellipsis :size="14" aria-hidden="true" /></template>
      </Button>
      <Button
        v-if="card.status === 'issued'"
        size="small"
        severity="secondary"
        variant="text"
        :label="t('cardTerms.atHome')"
        :aria-label="`${t('cardTerms.atHome')}: ${words}`"
        @click="leaveAtHome"
      >
        <template #icon><House :size="14" aria-hidden="true" /></template>
      </Button>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('cardTerms.replace')"
        :aria-label="`${t('cardTerms.replace')}: ${words}`"
        @click="emit('replace')"
      >
        <template #icon><Repeat2 :size="14" aria-hidden="true" /></template>
      </Button>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="giveBackWords"
        :aria-label="`${giveBackWords}: ${words}`"
        @click="emit('giveBack')"
      >
        <template #icon><Undo2 :size="14" aria-hidden="true" /></template>
      </Button>
    </div>
    <slot />
  </li>
</template>

<style scoped>
.card {
  padding: 8px 0;
}
.card + .card {
  border-top: 1px dashed var(--p-cadrin-hairline);
}
.fields {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 6px 10px;
}
.fields + .fields {
  margin-top: 6px;
}
.format,
.number {
  width: 104px;
}
.status {
  width: 118px;
}
.label {
  width: 150px;
}
.few {
  width: 92px;
}
.watched {
  width: 100%;
}
.acts {
  flex-wrap: wrap;
  justify-content: flex-end;
  gap: 0 2px;
  margin-top: 2px;
  white-space: nowrap;
}
.said {
  margin-right: auto;
  color: var(--p-cadrin-quiet);
  font-size: 13px;
}
.life {
  font-size: 13px;
}
</style>
