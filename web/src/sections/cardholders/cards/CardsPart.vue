<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { ref, useTemplateRef } from 'vue'

import type { CardDraft, House, Problem, Read } from '@/api/client'
import { newCard } from '@/kit/card'
import type { NextRead } from '@/kit/next-read'
import { under } from '@/kit/parts'
import { t } from '@/words'

import CardCapture from './CardCapture.vue'
import CardItem from './CardItem.vue'
import ReplaceCard from './ReplaceCard.vue'

const props = defineProps<{
  formats: House['formats']
  problems: Problem[]
  awaited: NextRead
  older: Read | null
}>()
const cards = defineModel<CardDraft[]>({ required: true })
/** Whether the next card is only lent, and goes back by itself at night. */
const onlyToday = defineModel<boolean>('onlyToday', { required: true })
const emit = defineEmits<{ read: [read: Read]; use: []; add: [card: CardDraft] }>()

const part = useTemplateRef('part')
const replacing = ref<number | null>(null)

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
    <ul>
      <CardItem
        v-for="(_, place) in cards"
        :key="place"
        v-model="cards[place]!"
        :formats="formats"
        :problems="at(place)"
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
</style>
