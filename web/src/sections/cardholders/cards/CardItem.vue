<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, nextTick, useTemplateRef } from 'vue'

import type { CardDraft, House as HouseChoices, Problem } from '@/api/client'
import { numberInAddress } from '@/kit/state/addressed'
import { cardWords } from '@/kit/said/card'
import { endWords, whenWords } from '@/kit/time/clock'
import Field from '@/kit/controls/Field.vue'
import InstantField from '@/kit/time/InstantField.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import { t } from '@/words'

import CardActs from './CardActs.vue'
import CardTerms from './CardTerms.vue'
import { termsOf } from './terms'

/** One card of a cardholder: a line while nothing of it changes, and its fields when it is opened. */
const props = defineProps<{ formats: HouseChoices['formats']; problems: Problem[]; isSaved: boolean }>()
const card = defineModel<CardDraft>({ required: true })
const emit = defineEmits<{ giveBack: []; replace: [] }>()

const NOT_TYPED = -1
const item = useTemplateRef('item')
const opened = numberInAddress('opened')
const isOpened = computed(() => opened.value === card.value.card_number)
const isOpen = computed(() => isOpened.value || !props.isSaved || props.problems.length > 0)
async function open(is: boolean) {
  opened.value = is ? card.value.card_number : null
  if (!is) return
  await nextTick()
  item.value?.querySelector<HTMLElement>('input')?.focus()
}

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
const said = computed(() =>
  [
    props.formats.find((one) => one.id === card.value.format)?.name ?? '',
    card.value.activation_at ? t('cardTerms.starts', { when: whenWords(card.value.activation_at) }) : '',
    card.value.expiry_at ? t('cardTerms.ends', { when: endWords(card.value.expiry_at) }) : '',
    termsOf(card.value),
  ]
    .filter(Boolean)
    .join(', '),
)
</script>

<template>
  <li ref="item" class="card">
    <div v-if="isOpen" class="fields">
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
      <InstantField v-model="card.activation_at" :label="t('file.cardFrom')" :empty="t('common.atOnce')" />
      <InstantField
        v-model="card.expiry_at"
        :label="t('file.cardTo')"
        is-end
        :empty="t('common.noEnd')"
        :problems="at('expiry_at')"
      />
    </div>
    <div class="fields line">
      <span class="which">
        <b class="mono">{{ cardWords({ raw: '', ...card }) }}</b>
        <span class="quiet said">{{ said }}</span>
      </span>
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
    </div>
    <CardTerms
      v-if="isOpen && (isOpened || problems.length)"
      v-model="card"
      :formats="formats"
      :problems="problems"
    />
    <CardActs
      v-model="card"
      :is-open="isOpened"
      :is-saved="isSaved"
      @open="open"
      @replace="emit('replace')"
      @give-back="emit('giveBack')"
    />
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
.format,
.number {
  width: 104px;
}
.status {
  width: 118px;
}
.line {
  align-items: center;
}
.which {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-width: 150px;
}
.said {
  font-size: 13px;
}
</style>
