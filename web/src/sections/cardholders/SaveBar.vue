<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'

import type { components } from '@/api/schema'
import type { Problem } from '@/api/client'
import { whenWords } from '@/kit/time/clock'
import { refusalWords, t, wordsFor } from '@/words'

const props = defineProps<{
  isDirty: boolean
  isSaving: boolean
  problems: Problem[]
  /** Whether what was discarded can be brought back. */
  isDiscarded: boolean
  /** How far what was just saved has come. */
  delivery: components['schemas']['DeliveryOfCardholder'] | undefined
}>()
const emit = defineEmits<{ save: []; saveNext: []; discard: []; bringBack: [] }>()

const named = (records: { name: string }[]) => records.map((one) => one.name).join(', ')

/** Tell how far what was saved has come, and what stands in the way. */
const progress = computed(() => {
  if (!props.delivery) return ''
  const { records, is_pending } = props.delivery
  const silent = records.filter((one) => one.state !== 'held' && one.failed_at)
  const refused = records.filter((one) => one.state === 'refused')
  if (props.delivery.worker_stopped_at && props.delivery.not_held + Number(is_pending))
    return t('file.workerStopped', { when: whenWords(props.delivery.worker_stopped_at) })
  if (is_pending) return t('file.pending')
  if (!records.length) return t('file.heldNone')
  if (refused.length)
    return t('file.refused', {
      names: named(refused),
      why: refusalWords(refused[0]?.refusal),
    })
  if (silent.length) return t('file.silent', { names: named(silent) })
  if (records.some((one) => one.state !== 'held')) return t('file.pending')
  return t('file.heldAll', { names: named(records) })
})
const elsewhere = computed(() => props.problems.filter((one) => one.field === null))
</script>

<template>
  <div class="action-bar">
    <Button
      size="small"
      :label="t('common.save')"
      :loading="isSaving"
      :disabled="!isDirty"
      @click="emit('save')"
    />
    <Button
      size="small"
      severity="secondary"
      :label="t('common.saveNext')"
      :disabled="!isDirty || isSaving"
      @click="emit('saveNext')"
    />
    <Button
      size="small"
      severity="secondary"
      variant="text"
      :label="t('common.discard')"
      :disabled="!isDirty || isSaving"
      @click="emit('discard')"
    />
    <p class="told" role="status">
      <span v-if="elsewhere.length" class="denied">{{ elsewhere.map(wordsFor).join(' ') }}</span>
      <span v-else-if="isDirty && problems.length" class="denied">
        {{ t('file.problems', problems.length) }}
      </span>
      <span v-else-if="isDirty">{{ t('file.unsaved') }}</span>
      <template v-else-if="isDiscarded">
        {{ t('file.discarded') }}
        <button type="button" class="back" @click="emit('bringBack')">{{ t('file.bringBack') }}</button>
      </template>
      <span v-else>{{ progress }}</span>
    </p>
  </div>
</template>

<style scoped>
.back {
  padding: 0;
  border: 0;
  background: none;
  color: var(--p-cadrin-teal);
  font: inherit;
  text-decoration: underline;
  cursor: pointer;
}
</style>
