<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { useConfirm } from 'primevue/useconfirm'

import { type CardDraft, client, type House, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useAct } from '@/kit/state/act'
import { cardWords } from '@/kit/said/card'
import { endWords } from '@/kit/time/clock'
import { useSession } from '@/kit/state/session'
import StateMark from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

/** The cards of somebody, for whoever may not issue any; a reception may suspend one. */
const props = defineProps<{ id: number | null; cards: CardDraft[]; formats: House['formats'] }>()
const emit = defineEmits<{ changed: [] }>()

const session = useSession()
const queries = useQueryClient()
const confirm = useConfirm()
const { act, elsewhere } = useAct()
const formatOf = (card: CardDraft) => props.formats.find((one) => one.id === card.format)?.name ?? ''
const wordsOf = (card: CardDraft) => cardWords({ raw: '', ...card })
const shapeOf = (card: CardDraft) =>
  card.status === 'issued' ? 'disc' : card.status === 'suspended' ? 'bar' : 'cross'

function ask(card: CardDraft) {
  confirm.require({
    header: t('file.suspendCardOf', { card: wordsOf(card) }),
    message: t('file.suspendAsk', { card: wordsOf(card) }),
    acceptLabel: t('file.suspendCard'),
    rejectLabel: t('common.cancel'),
    acceptProps: { size: 'small' },
    rejectProps: { severity: 'secondary', size: 'small', variant: 'text' },
    accept: () => void suspend(card),
  })
}
async function suspend(card: CardDraft) {
  const { id } = props
  if (id === null) return
  const { format, facility_code, card_number } = card
  const done = await act(
    async () => {
      await unwrap(
        client.POST('/api/cardholders/{id}/cards/suspend/', {
          params: { path: { id } },
          body: { format, facility_code, card_number },
        }),
      )
      return true
    },
    t('file.suspended', { card: wordsOf(card) }),
  )
  if (!done) return
  emit('changed')
  await queries.invalidateQueries({ queryKey: keyOf('cardholders') })
}
</script>

<template>
  <section id="cards" class="part" aria-labelledby="cards-head">
    <h2 id="cards-head">{{ t('file.cards') }}</h2>
    <p v-if="!cards.length" class="quiet">{{ t('gaps.no_card') }}</p>
    <ul>
      <li v-for="card in cards" :key="wordsOf(card)" class="card">
        <span class="mono">{{ wordsOf(card) }}</span>
        <span class="quiet">{{ formatOf(card) }}</span>
        <StateMark :shape="shapeOf(card)" :word="t(`statuses.${card.status}`)" />
        <span v-if="card.label || card.is_watched" class="quiet">{{
          [card.label, card.is_watched ? t('cardTerms.watched') : ''].filter(Boolean).join(', ')
        }}</span>
        <span v-if="card.expiry_at" class="quiet">
          {{ t('file.cardTo') }} {{ endWords(card.expiry_at) }}
        </span>
        <Button
          v-if="id !== null && session.may('suspend') && card.status === 'issued'"
          size="small"
          severity="secondary"
          class="push"
          :label="t('file.suspendCard')"
          :aria-label="t('file.suspendCardOf', { card: wordsOf(card) })"
          @click="ask(card)"
        />
      </li>
    </ul>
    <p class="denied" role="alert">{{ elsewhere }}</p>
  </section>
</template>

<style scoped>
.part {
  margin-top: 18px;
  padding-top: 12px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.card {
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: 34px;
}
</style>
