<script setup lang="ts">
import type { House } from '@/api/client'
import { t } from '@/words'

import FaultItem from './FaultItem.vue'
import type { Intake } from './intake'
import type { Asked } from './rows'

/** What is to be decided, by kind. */
defineProps<{ intake: Intake; house: House }>()
const emit = defineEmits<{ show: [asked: Asked] }>()
</script>

<template>
  <section aria-live="polite">
    <div class="row">
      <h2>{{ t('intake.toDecide') }}</h2>
      <a
        v-if="intake.summary?.faults.length"
        class="push"
        :href="`/api/intakes/${intake.id}/faults/`"
        download
        >{{ t('intake.faultsFile') }}</a
      >
    </div>
    <p v-if="!intake.is_assessed" class="quiet">
      {{ t('intake.working', { done: intake.done, total: intake.total }) }}
    </p>
    <p v-else-if="!intake.summary?.faults.length" class="quiet">{{ t('intake.nothingToDecide') }}</p>
    <ul v-else>
      <FaultItem
        v-for="group in intake.summary.faults"
        :key="`${group.column} ${group.code}`"
        :group="group"
        :intake="intake"
        :house="house"
        @show="emit('show', { state: '', code: group.code, column: group.column })"
      />
    </ul>
  </section>
</template>

<style scoped>
a {
  font-size: 13px;
}
p {
  font-size: 13px;
}
</style>
