<script setup lang="ts">
import AutoComplete from 'primevue/autocomplete'
import { ref } from 'vue'

import { type CardDraft, client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import { cardWords, newCard } from '@/kit/said/card'
import { letGo } from '@/kit/controls/let-go'
import { useFinding } from '@/kit/state/finding'
import { t } from '@/words'

/** Choose a card from stock, by any part of its number. */
const emit = defineEmits<{ chosen: [card: CardDraft] }>()
type FreeCard = components['schemas']['FreeCard']

const typed = ref<string | { card: FreeCard }>('')
const { found, box } = useFinding(
  async (text) => {
    const cards = await unwrap(client.GET('/api/stock/', { params: { query: { text } } }))
    return cards.map((card) => ({ card, word: `${cardWords({ raw: '', ...card })} ${card.format_name}` }))
  },
  ({ card }) => choose(card),
)
function choose({ format_id, facility_code, card_number }: FreeCard) {
  emit('chosen', newCard({ format: format_id, facility_code, card_number }))
  typed.value = ''
  letGo()
}
</script>

<template>
  <AutoComplete
    v-model="typed"
    :suggestions="found"
    option-label="word"
    size="small"
    auto-option-focus
    :delay="150"
    :placeholder="t('stock.from')"
    :aria-label="t('stock.from')"
    v-bind="box"
    @option-select="choose($event.value.card)"
  />
</template>
