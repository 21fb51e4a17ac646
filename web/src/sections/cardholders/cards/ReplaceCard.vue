<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { computed, ref } from 'vue'

import { type CardDraft, client, type Read, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useAct } from '@/kit/state/act'
import type { CardNumbers } from '@/kit/said/card'
import { cardOf } from '@/kit/state/use-read'
import { t } from '@/words'

import CardCapture from './CardCapture.vue'

type Became = 'lost' | 'stolen' | 'damaged' | 'returned'

/** What became of the old card, and which one takes its place; a format with issue levels may keep its number. */
const props = defineProps<{ old: CardDraft }>()
const emit = defineEmits<{ chosen: [instead: CardDraft[]]; cancel: [] }>()

const became = ref<Became>('lost')
const choices = (['lost', 'stolen', 'damaged', 'returned'] as const).map((value) => ({
  value,
  word: t(`statuses.${value}`),
}))
const { act, elsewhere } = useAct()
const instead = (card: CardNumbers | null) =>
  unwrap(
    client.POST('/api/preview/replacement/', {
      body: { old: props.old, became: became.value, card },
    }),
  )
const { data: nextIssue } = useQuery({
  queryKey: keyOf(
    'cards',
    'next-issue',
    computed(() => props.old),
  ),
  queryFn: () => instead(null),
})
async function take(card: CardNumbers) {
  const { format, facility_code, card_number } = card
  const found = await act(() => instead({ format, facility_code, card_number }))
  if (found) emit('chosen', found.cards)
}
function takeRead(read: Read) {
  const card = cardOf(read)
  if (card) void take(card)
}
</script>

<template>
  <div class="replace">
    <p>{{ t('replace.old') }}</p>
    <SelectButton
      v-model="became"
      :options="choices"
      option-label="word"
      option-value="value"
      size="small"
      :allow-empty="false"
      :aria-label="t('replace.old')"
    />
    <p>{{ t('replace.new') }}</p>
    <div class="row">
      <CardCapture @captured="take" @read="takeRead" />
      <Button
        v-if="nextIssue?.next_issue_level"
        size="small"
        severity="secondary"
        :label="t('replace.nextIssue', { level: nextIssue.next_issue_level })"
        @click="emit('chosen', nextIssue.cards)"
      />
      <Button size="small" severity="secondary" :label="t('common.cancel')" @click="emit('cancel')" />
    </div>
    <p class="denied" role="alert">{{ elsewhere }}</p>
  </div>
</template>

<style scoped>
.replace {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 6px;
  padding: 8px 10px;
  margin-top: 6px;
  border-left: 3px solid var(--p-cadrin-teal);
  background: var(--p-cadrin-teal-paper);
}
</style>
