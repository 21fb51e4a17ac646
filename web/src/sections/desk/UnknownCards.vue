<script setup lang="ts">
import { computed, shallowRef } from 'vue'

import type { components } from '@/api/schema'

import UnknownCardLine from './UnknownCardLine.vue'

type UnknownCard = components['schemas']['UnknownCard']

/** Cards of nobody, a line each; one that was moved just now stays, to be moved back. */
const props = defineProps<{ cards: UnknownCard[]; isAside?: boolean }>()
const keyOf = (card: UnknownCard) => `${card.format_id} ${card.facility_code} ${card.card_number}`
const moved = shallowRef<UnknownCard[]>([])
const lines = computed(() => {
  const there = new Set(props.cards.map(keyOf))
  return [...props.cards, ...moved.value.filter((one) => !there.has(keyOf(one)))]
})
</script>

<template>
  <UnknownCardLine
    v-for="card in lines"
    :key="keyOf(card)"
    :card="card"
    :is-aside="isAside"
    @moved="moved = [...moved, card]"
  />
</template>
