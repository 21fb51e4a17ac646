<script setup lang="ts">
import type { components } from '@/api/schema'
import { t } from '@/words'

/** What an act on many will do, to how many, and whom it leaves alone. */
defineProps<{
  effect: components['schemas']['BulkPreviewShape']
  doors: string[]
  /** Whether the doors open by it, or shut. */
  opens: boolean
}>()
</script>

<template>
  <div class="effect" role="status">
    <p>
      <b>{{ t('batches.willChange', { count: effect.changed }) }}</b>
      {{ t('batches.ofSelected', { count: effect.total }) }}
    </p>
    <ul>
      <li v-for="one in effect.left_alone" :key="one.why">
        {{ t(`batches.leftAlone.${one.why}`, one.count) }}
        <span class="quiet"
          >{{ one.examples.join(', ') }}{{ one.count > one.examples.length ? '…' : '' }}</span
        >
      </li>
      <li v-if="doors.length">
        {{ t(opens ? 'batches.opens' : 'batches.shuts', { doors: doors.join(', ') }) }}
      </li>
      <li v-if="effect.records">{{ t('batches.records', effect.records) }}</li>
    </ul>
  </div>
</template>

<style scoped>
.effect {
  margin-top: 12px;
  padding: 8px 10px;
  border-left: 3px solid var(--p-cadrin-teal);
  background: var(--p-cadrin-teal-paper);
}
.effect ul {
  margin: 4px 0;
}
</style>
