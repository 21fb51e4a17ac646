<script setup lang="ts">
import Button from 'primevue/button'
import SelectButton from 'primevue/selectbutton'
import { computed, ref } from 'vue'

import type { CardDraft, House, Read } from '@/api/client'
import { cardOf } from '@/kit/use-read'
import { t } from '@/words'

import CardCapture from './CardCapture.vue'

type Became = 'lost' | 'stolen' | 'damaged' | 'returned'

/** What became of the old card, and which one takes its place; a format with issue levels may keep its number. */
const props = defineProps<{ old: CardDraft; formats: House['formats'] }>()
const emit = defineEmits<{ chosen: [card: CardDraft, became: Became]; cancel: [] }>()

const became = ref<Became>('lost')
const choices = (['lost', 'stolen', 'damaged', 'returned'] as const).map((value) => ({
  value,
  word: t(`statuses.${value}`),
}))
const nextLevel = computed(() => {
  const highest = props.formats.find((one) => one.id === props.old.format)?.highest_issue_level ?? null
  const next = (props.old.issue_level ?? 0) + 1
  return highest !== null && next <= highest ? next : null
})
function takeRead(read: Read) {
  const card = cardOf(read)
  if (card) emit('chosen', card, became.value)
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
      <CardCapture @captured="emit('chosen', $event, became)" @read="takeRead" />
      <Button
        v-if="nextLevel !== null"
        size="small"
        severity="secondary"
        :label="t('replace.nextIssue', { level: nextLevel })"
        @click="emit('chosen', { ...old, issue_level: nextLevel }, became)"
      />
      <Button size="small" severity="secondary" :label="t('common.cancel')" @click="emit('cancel')" />
    </div>
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
