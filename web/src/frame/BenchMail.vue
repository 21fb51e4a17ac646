<script setup lang="ts">
import type { BenchMail } from '@/api/client'
import { momentWords } from '@/kit/time/clock'
import { t } from '@/words'

import OnOff from './OnOff.vue'

/** The mail server among the stand-ins, and what it took last. */
defineProps<{ mail: BenchMail }>()
const emit = defineEmits<{ switch: [isOn: boolean] }>()
</script>

<template>
  <section class="controller">
    <div class="row head">
      <h3>{{ t('bench.mail') }}</h3>
      <OnOff
        class="push"
        :name="t('bench.mail')"
        :model-value="mail.is_on"
        @update:model-value="emit('switch', $event)"
      />
    </div>
    <ul class="letters">
      <li v-if="!mail.letters.length" class="dim">{{ t('bench.noLetters') }}</li>
      <li v-for="one in mail.letters.slice(0, 3)" :key="one.at" class="one-line">
        <span class="mono dim">{{ momentWords(one.at) }}</span> {{ t('bench.letter', one) }}
      </li>
    </ul>
  </section>
</template>

<style scoped>
.controller {
  min-width: 0;
}
.head {
  margin-bottom: 5px;
}
.dim {
  font-size: 12px;
  color: var(--p-cadrin-bar-quiet);
}
.letters {
  font-size: 13px;
}
</style>
