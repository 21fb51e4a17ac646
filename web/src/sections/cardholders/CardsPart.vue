<script setup lang="ts">
import { Plus, Undo2 } from '@lucide/vue'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { inject, useTemplateRef } from 'vue'

import type { CardDraft, House, Problem } from '@/api/client'
import Field from '@/kit/Field.vue'
import InstantField from '@/kit/InstantField.vue'
import { letGo } from '@/kit/let-go'
import { useReads } from '@/kit/reads'
import { readUser } from '@/kit/use-read'
import { t } from '@/words'

import FromStock from './FromStock.vue'

const props = defineProps<{ formats: House['formats']; problems: Problem[] }>()
const cards = defineModel<CardDraft[]>({ required: true })

const reads = useReads()
const taker = inject(readUser)
const part = useTemplateRef('part')
const statuses = (['issued', 'suspended', 'lost', 'stolen', 'damaged'] as const).map((value) => ({
  value,
  word: t(`statuses.${value}`),
}))
const NOT_TYPED = -1

const at = (place: number, field: string) => props.problems.filter((one) => one.field === `${place}.${field}`)
const shown = (value: number) => (value === NOT_TYPED ? '' : String(value))
function numberIn(typed: string | undefined): number {
  const digits = (typed ?? '').replace(/\D/g, '')
  return digits ? Number(digits) : NOT_TYPED
}

function add() {
  const last = cards.value.at(-1)
  cards.value.push({
    format: last?.format ?? props.formats[0]?.id ?? 0,
    facility_code: last?.facility_code ?? NOT_TYPED,
    card_number: NOT_TYPED,
    status: 'issued',
    activation_at: null,
    expiry_at: null,
  })
}
function useRead() {
  if (reads.newest) taker?.value?.(reads.newest)
}
function giveBack(place: number) {
  cards.value.splice(place, 1)
  part.value?.querySelector<HTMLElement>('[data-first]')?.focus()
}
</script>

<template>
  <section id="cards" ref="part" class="part" aria-labelledby="cards-head">
    <div class="row head">
      <h2 id="cards-head">{{ t('file.cards') }}</h2>
      <Button class="push" size="small" data-first :disabled="!reads.newest" @click="useRead">
        {{ t('file.useRead') }} <kbd class="mono">U</kbd>
      </Button>
      <FromStock class="stock" @chosen="cards.push($event)" />
      <Button size="small" severity="secondary" @click="add">
        <Plus :size="14" aria-hidden="true" /> {{ t('file.addCard') }}
      </Button>
    </div>
    <p v-if="!cards.length" class="quiet">{{ t('file.noCards') }}</p>
    <ul>
      <li v-for="(card, place) in cards" :key="place" class="card">
        <Field v-slot="{ labelId }" :label="t('file.format')" :problems="at(place, 'format')" class="format">
          <Select
            v-model="card.format"
            :options="formats"
            option-label="name"
            option-value="id"
            size="small"
            :aria-labelledby="labelId"
            @update:model-value="letGo"
          />
        </Field>
        <Field
          v-for="name in ['facility_code', 'card_number'] as const"
          :key="name"
          v-slot="{ id, invalid, describedBy }"
          :label="t(`file.${name}`)"
          :problems="at(place, name)"
          class="number"
        >
          <InputText
            :id="id"
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
        <Field v-slot="{ labelId }" :label="t('file.status')" :problems="at(place, 'status')" class="status">
          <Select
            v-model="card.status"
            :options="statuses"
            option-label="word"
            option-value="value"
            size="small"
            :aria-labelledby="labelId"
            @update:model-value="letGo"
          />
        </Field>
        <InstantField v-model="card.activation_at" :label="t('file.cardFrom')" :empty="t('common.atOnce')" />
        <InstantField
          v-model="card.expiry_at"
          :label="t('file.cardTo')"
          :empty="t('common.noEnd')"
          :problems="at(place, 'expiry_at')"
        />
        <Button
          size="small"
          severity="secondary"
          class="back"
          :label="t('file.returnCard')"
          :aria-label="`${t('file.returnCard')}: ${card.facility_code}-${card.card_number}`"
          @click="giveBack(place)"
        >
          <template #icon><Undo2 :size="14" aria-hidden="true" /></template>
        </Button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.part {
  margin-top: 18px;
  padding-top: 12px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.stock {
  width: 120px;
}
.stock :deep(input) {
  width: 100%;
}
.head {
  margin-bottom: 6px;
}
kbd {
  padding: 0 5px;
  border: 1px solid currentcolor;
  border-radius: 3px;
}
.card {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 6px 10px;
  padding: 8px 0;
}
.card + .card {
  border-top: 1px dashed var(--p-cadrin-hairline);
}
.format {
  width: 104px;
}
.number {
  width: 104px;
}
.status {
  width: 118px;
}
.back {
  margin-top: 18px;
}
</style>
