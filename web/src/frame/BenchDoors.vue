<script setup lang="ts">
import { DoorClosed, DoorOpen } from '@lucide/vue'

import type { BenchController } from '@/api/client'
import { t } from '@/words'

/** The doors of a stand-in as they are: opened and shut by hand, unlocked by their button. */
defineProps<{ doors: BenchController['doors'] }>()
const emit = defineEmits<{ move: [door: number, move: 'open' | 'shut' | 'button'] }>()
</script>

<template>
  <ul class="doors" :aria-label="t('doing.doors')">
    <li v-for="door in doors" :key="door.id">
      <button
        type="button"
        :class="{ open: door.is_open }"
        :title="`${t(`locks.${door.lock}`)}, ${t(door.is_open ? 'doing.isOpen' : 'doing.isShut')}`"
        @click="emit('move', door.id, door.is_open ? 'shut' : 'open')"
      >
        <component :is="door.is_open ? DoorOpen : DoorClosed" :size="14" aria-hidden="true" />
        {{ door.name }}
        <span class="lock">{{ t(`locks.${door.lock}`) }}</span>
        <span class="unseen">: {{ t(door.is_open ? 'doing.shut' : 'doing.open') }}</span>
      </button>
      <button
        v-if="door.has_exit_button"
        type="button"
        :aria-label="`${door.name}: ${t('doing.press')}`"
        :title="t('doing.press')"
        @click="emit('move', door.id, 'button')"
      >
        <span aria-hidden="true">◉</span>
      </button>
    </li>
  </ul>
</template>

<style scoped>
.doors {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  margin-top: 5px;
}
button {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  min-width: 24px;
  min-height: 24px;
  padding: 1px 4px;
  border: 0;
  border-radius: 4px;
  background: none;
  font-size: 12px;
  color: var(--p-cadrin-bar-ink);
  cursor: pointer;
}
li {
  display: flex;
  white-space: nowrap;
}
button:hover {
  background: var(--p-cadrin-night);
}
.open {
  color: var(--p-cadrin-lit);
}
.lock {
  color: var(--p-cadrin-bar-quiet);
}
</style>
