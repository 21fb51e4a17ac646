<script setup lang="ts">
import type { Consequences, House } from '@/api/client'
import EffectLines from '@/kit/controls/EffectLines.vue'
import { t } from '@/words'

defineProps<{ consequences: Consequences | undefined; doors: House['doors']; isDirty: boolean }>()
</script>

<template>
  <section class="effects" aria-labelledby="effects-head" aria-live="polite">
    <h2 id="effects-head">{{ t('effects.title') }}</h2>
    <p v-if="!isDirty || !consequences" class="quiet">{{ t('effects.nothing') }}</p>
    <EffectLines
      v-else
      :doors="doors"
      :gained="consequences.gained"
      :ways-out="consequences.ways_out"
      :lost="consequences.lost"
      :other-hours="consequences.other_hours"
      :to-send="consequences.to_send"
    />
  </section>
</template>

<style scoped>
.effects {
  padding: 10px 16px 12px;
  min-height: 96px;
  border-top: 1px solid var(--p-cadrin-hairline);
  background: var(--p-cadrin-sheet);
}
h2 {
  margin-bottom: 4px;
}
</style>
