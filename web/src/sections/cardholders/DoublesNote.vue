<script setup lang="ts">
import Button from 'primevue/button'
import { ref } from 'vue'

import type { Consequences } from '@/api/client'
import { t } from '@/words'

import MergeDialog from './MergeDialog.vue'

/** Others who may be the same human being: open them, merge the two, or go on. */
defineProps<{ doubles: Consequences['possible_duplicates']; id: number | null }>()
const emit = defineEmits<{ goOn: [] }>()
const merging = ref<number | null>(null)
</script>

<template>
  <div class="note" role="status">
    <p>{{ t('doubles.title', doubles.length) }}</p>
    <ul>
      <li v-for="one in doubles" :key="one.id">
        <span class="who">
          <b>{{ one.display_name }}</b> <span class="mono">{{ one.number }}</span>
          <span class="quiet place">{{ one.department_name }}</span>
          <span class="signs">{{ one.signs.map((sign) => t(`doubles.signs.${sign}`)).join(', ') }}</span>
        </span>
        <RouterLink :to="{ name: 'cardholder', params: { id: one.id } }">{{ t('common.open') }}</RouterLink>
        <Button
          v-if="id !== null"
          size="small"
          severity="secondary"
          :label="t('doubles.merge')"
          :aria-label="`${t('doubles.merge')}: ${one.display_name}`"
          @click="merging = one.id"
        />
      </li>
    </ul>
    <Button
      size="small"
      severity="secondary"
      variant="text"
      :label="t('doubles.goOn')"
      @click="emit('goOn')"
    />
    <MergeDialog
      v-if="merging !== null && id !== null"
      :id="id"
      :other-id="merging"
      @close="merging = null"
    />
  </div>
</template>

<style scoped>
.note {
  padding: 6px 10px;
  margin-bottom: 10px;
  border-left: 3px solid var(--p-cadrin-lit);
  background: var(--p-cadrin-amber-paper);
}
li {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 3px 0;
}
.who {
  flex: 1;
}
.place {
  margin-left: 6px;
}
.signs {
  display: block;
  font-size: 13px;
}
</style>
