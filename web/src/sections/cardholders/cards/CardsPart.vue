<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { computed, ref, useTemplateRef } from 'vue'

import type { CardDraft, House, Problem, Read } from '@/api/client'
import { numberInAddress } from '@/kit/state/addressed'
import { isSameCard, newCard } from '@/kit/said/card'
import { endOf } from '@/kit/time/clock'
import type { NextRead } from '@/kit/state/next-read'
import { under } from '@/kit/state/parts'
import { t } from '@/words'

import CardCapture from './CardCapture.vue'
import CardItem from './CardItem.vue'
import ReplaceCard from './ReplaceCard.vue'

const props = defineProps<{
  formats: House['formats']
  problems: Problem[]
  awaited: NextRead
  older: Read | null
  /** The cards as they are saved; nothing of somebody new. */
  saved: CardDraft[]
}>()
const cards = defineModel<CardDraft[]>({ required: true })
/** Whether the next card is only lent, and goes back by itself at night. */
const onlyToday = defineModel<boolean>('onlyToday', { required: true })
const emit = defineEmits<{ read: [read: Read]; use: []; add: [card: CardDraft] }>()

const part = useTemplateRef('part')
const replacing = ref<number | null>(null)

const savedAs = (card: CardDraft) => props.saved.find((one) => isSameCard(one, card))
/** What works or may again comes first; the rest is folded away while nothing of it changes. */
const DEAD = ['lost', 'stolen', 'damaged']
const isOver = (card: CardDraft) =>
  JSON.stringify(savedAs(card)) === JSON.stringify(card) &&
  (DEAD.includes(card.status) || (card.expiry_at !== null && endOf(card.expiry_at) <= new Date()))
const placesOf = (over: boolean) =>
  [...cards.value.keys()].filter((place) => isOver(cards.value[place]!) === over)
const folds = computed(() => [
  { places: placesOf(false), isFolded: false },
  { places: placesOf(true), isFolded: true },
])

const opened = numberInAddress('opened')
const hasOpened = (places: number[]) =>
  places.some((place) => cards.value[place]?.card_number === opened.value)

const at = (place: number) => under(props.problems, String(place))

function addTyped() {
  const last = cards.value.at(-1)
  const format = last?.format ?? props.formats[0]?.id ?? 0
  emit('add', newCard({ format, facility_code: last?.facility_code ?? -1, card_number: -1 }))
}
function giveBack(place: number) {
  cards.value.splice(place, 1)
  part.value?.querySelector<HTMLElement>('[data-first]')?.focus()
}
/** The old card is dead and the new one alive in one act: both stand here, and are saved together. */
function replace(place: number, instead: CardDraft[]) {
  cards.value.splice(place, 1, ...instead)
  replacing.value = null
}
</script>

<template>
  <section id="cards" ref="part" class="part" aria-labelledby="cards-head">
    <div class="row head">
      <h2 id="cards-head">{{ t('file.cards') }}</h2>
      <label class="row push" for="only-today">
        <Checkbox v-model="onlyToday" binary input-id="only-today" /> {{ t('cardTerms.onlyToday') }}
      </label>
    </div>
    <CardCapture
      has-typing
      is-first
      :awaited="awaited"
      :older="older"
      @use="emit('use')"
      @captured="emit('add', $event)"
      @read="emit('read', $event)"
      @type="addTyped"
    />
    <p v-if="!cards.length" class="quiet">{{ t('file.noCards') }}</p>
    <template v-for="fold in folds" :key="String(fold.isFolded)">
      <component
        :is="fold.isFolded ? 'details' : 'div'"
        v-if="fold.places.length"
        :open="fold.isFolded ? hasOpened(fold.places) : undefined"
      >
        <summary v-if="fold.isFolded">
          {{ t('cardTerms.noLonger', { count: fold.places.length }, fold.places.length) }}
        </summary>
        <ul>
          <CardItem
            v-for="place in fold.places"
            :key="place"
            v-model="cards[place]!"
            :formats="formats"
            :problems="at(place)"
            :is-saved="!!savedAs(cards[place]!)"
            @give-back="giveBack(place)"
            @replace="replacing = place"
          >
            <ReplaceCard
              v-if="replacing === place"
              :old="cards[place]!"
              @chosen="replace(place, $event)"
              @cancel="replacing = null"
            />
          </CardItem>
        </ul>
      </component>
    </template>
  </section>
</template>

<style scoped>
.part {
  margin-top: 18px;
  padding-top: 12px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.head {
  margin-bottom: 6px;
}
summary {
  padding: 4px 0;
  color: var(--p-cadrin-quiet);
  cursor: pointer;
}
</style>
