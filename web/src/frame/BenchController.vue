<script setup lang="ts">
import { Camera, Fingerprint, Grip, ScanFace } from '@lucide/vue'
import Select from 'primevue/select'
import { computed } from 'vue'

import type { BenchController } from '@/api/client'
import { t } from '@/words'

import BenchDoors from './BenchDoors.vue'
import OnOff from './OnOff.vue'

/** One stand-in: its readers to show something at, and its switches. */
type Reader = BenchController['readers'][number]
defineProps<{ controller: BenchController; canPresent: (reader: Reader) => boolean }>()
const emit = defineEmits<{
  change: [to: { is_on?: boolean; delay_seconds?: number }]
  empty: []
  strangers: []
  present: [reader: Reader]
  move: [door: number, move: 'open' | 'shut' | 'button']
}>()

const delays = computed(() =>
  [0, 1, 3, 8].map((seconds) => ({
    seconds,
    word: seconds ? t('bench.seconds', { count: seconds }) : t('bench.notSlow'),
  })),
)
</script>

<template>
  <section class="controller" :class="{ off: !controller.is_on }">
    <div class="row head">
      <h3>{{ controller.is_desk ? t('bench.deskReaders') : controller.name }}</h3>
      <span v-if="!controller.is_desk" class="dim">{{ t('bench.held', controller.held) }}</span>
      <span v-if="controller.clock_off_seconds" class="dim">
        {{ t('bench.clockOff', { minutes: Math.round(controller.clock_off_seconds / 60) }) }}
      </span>
      <span class="row push controls">
        <Select
          v-if="!controller.is_desk"
          :model-value="controller.delay_seconds"
          :options="delays"
          option-label="word"
          option-value="seconds"
          size="small"
          class="delay"
          :aria-label="`${t('bench.slow')}, ${controller.name}`"
          @update:model-value="emit('change', { delay_seconds: $event })"
        />
        <OnOff
          :name="controller.name"
          :model-value="controller.is_on"
          @update:model-value="emit('change', { is_on: $event })"
        />
      </span>
    </div>
    <div class="readers">
      <button
        v-for="reader in controller.readers"
        :key="reader.id"
        type="button"
        class="reader"
        :title="reader.has_keypad ? t('readersSetup.keypad') : undefined"
        :disabled="!canPresent(reader)"
        @click="emit('present', reader)"
      >
        {{ reader.name }}
        <Grip v-if="reader.has_keypad" :size="12" aria-hidden="true" />
        <Camera v-if="reader.has_camera" :size="12" aria-hidden="true" />
        <ScanFace v-if="reader.has_face_reader" :size="12" aria-hidden="true" />
        <Fingerprint v-if="reader.has_finger_scanner" :size="12" aria-hidden="true" />
      </button>
      <span v-if="!controller.is_desk" class="row push acts">
        <button type="button" :aria-label="`${t('bench.empty')}: ${controller.name}`" @click="emit('empty')">
          {{ t('bench.empty') }}
        </button>
        <button
          type="button"
          :aria-label="`${t('bench.strangers')}: ${controller.name}`"
          @click="emit('strangers')"
        >
          {{ t('bench.strangers') }}
        </button>
      </span>
    </div>
    <BenchDoors
      v-if="controller.doors.length"
      :doors="controller.doors"
      @move="(...to) => emit('move', ...to)"
    />
  </section>
</template>

<style scoped>
.controller {
  min-width: 0;
}
.head {
  margin-bottom: 5px;
}
h3,
.dim {
  white-space: nowrap;
}
.dim {
  font-size: 12px;
  color: var(--p-cadrin-bar-quiet);
}
.delay {
  width: 116px;
}
.readers {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.reader {
  padding: 2px 8px;
  font-size: 13px;
  border: 1px solid var(--p-cadrin-night-line);
  border-radius: 4px;
  background: var(--p-cadrin-night);
  color: var(--p-cadrin-bar-ink);
  cursor: pointer;
}
.reader:hover:not(:disabled) {
  border-color: var(--p-cadrin-lit);
}
.reader:disabled {
  cursor: default;
  color: var(--p-cadrin-bar-quiet);
}
.acts button {
  padding: 2px 4px;
  border: 0;
  background: none;
  font-size: 12px;
  color: var(--p-cadrin-bar-ink);
  text-decoration: underline;
  cursor: pointer;
}
.off .reader {
  border-style: dashed;
}
</style>
