<script setup lang="ts">
import { House, Pencil, Repeat2, RotateCcw, Undo2 } from '@lucide/vue'
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed } from 'vue'

import type { CardDraft } from '@/api/client'
import { coming } from '@/api/queries'
import { cardWords } from '@/kit/said/card'
import { cardQuery } from '@/kit/state/use-read'
import { t } from '@/words'

/** What is done with a card in one act. */
const props = defineProps<{ isOpen: boolean; isSaved: boolean }>()
const card = defineModel<CardDraft>({ required: true })
const emit = defineEmits<{ giveBack: []; replace: []; open: [isOpen: boolean] }>()

/** It may turn up again. */
const IDLE = ['suspended', 'lost', 'stolen']
const queries = useQueryClient()
/** One that is lost, stolen or damaged is not back in stock because it is taken off the file. */
const giveBackWords = computed(() =>
  t(['issued', 'suspended'].includes(card.value.status) ? 'file.returnCard' : 'file.giveUpCard'),
)
const words = computed(() => cardWords({ raw: '', ...card.value }))
async function leaveAtHome() {
  const { morning } = await queries.fetchQuery(coming)
  card.value.status = 'suspended'
  card.value.suspended_until = morning
}
function backInUse() {
  card.value.status = 'issued'
  card.value.suspended_until = null
}
const acts = computed(() => [
  {
    label: t(props.isOpen ? 'cardTerms.less' : props.isSaved ? 'cardTerms.change' : 'cardTerms.more'),
    icon: Pencil,
    isExpanded: props.isOpen,
    run: () => emit('open', !props.isOpen),
  },
  ...(card.value.status === 'issued'
    ? [{ label: t('cardTerms.atHome'), icon: House, run: () => void leaveAtHome() }]
    : []),
  ...(IDLE.includes(card.value.status)
    ? [{ label: t('cardTerms.again'), icon: RotateCcw, run: backInUse }]
    : []),
  { label: t('cardTerms.replace'), icon: Repeat2, run: () => emit('replace') },
  { label: giveBackWords.value, icon: Undo2, run: () => emit('giveBack') },
])
</script>

<template>
  <span class="acts">
    <RouterLink
      v-if="card.card_number >= 0"
      class="life"
      :to="{ name: 'cards', params: { part: 'life' }, query: { card: cardQuery(card) } }"
    >
      {{ t('life.short') }}
    </RouterLink>
    <Button
      v-for="one in acts"
      :key="one.label"
      size="small"
      severity="secondary"
      variant="text"
      :label="one.label"
      :aria-expanded="'isExpanded' in one ? one.isExpanded : undefined"
      :aria-label="`${one.label}: ${words}`"
      @click="one.run()"
    >
      <template #icon><component :is="one.icon" :size="14" aria-hidden="true" /></template>
    </Button>
  </span>
</template>

<style scoped>
.acts {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: flex-end;
  gap: 0 2px;
  white-space: nowrap;
}
.life {
  font-size: 13px;
}
</style>
