<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'

import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import DetectivePart from './DetectivePart.vue'
import FormatsPart from './FormatsPart.vue'
import LifePart from './LifePart.vue'
import PinListsPart from './PinListsPart.vue'
import RowPart from './row/RowPart.vue'
import StockPart from './StockPart.vue'

const ALL = ['number', 'stock', 'row', 'life', 'pins', 'formats'] as const
const OF_ISSUERS = new Set<string>(['row', 'pins'])
const mayIssue = useSession().may('issue')
const PARTS = ALL.filter((one) => mayIssue || !OF_ISSUERS.has(one))
const route = useRoute()
const part = computed(() => (route.params.part as (typeof PARTS)[number]) || 'number')
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1>{{ t('cards.title') }}</h1>
      <nav class="parts" :aria-label="t('cards.title')">
        <RouterLink
          v-for="one in PARTS"
          :key="one"
          :to="{ name: 'cards', params: { part: one } }"
          :class="{ here: one === part }"
          :aria-current="one === part ? 'page' : undefined"
        >
          {{ t(`cards.partsOf.${one}`) }}
        </RouterLink>
      </nav>
    </div>
    <DetectivePart v-if="part === 'number'" />
    <StockPart v-else-if="part === 'stock'" />
    <RowPart v-else-if="part === 'row'" />
    <LifePart v-else-if="part === 'life'" />
    <PinListsPart v-else-if="part === 'pins'" />
    <FormatsPart v-else />
  </div>
</template>

<style scoped>
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
a {
  padding: 2px 8px;
  border-radius: 4px;
  color: var(--p-cadrin-ink);
  text-decoration: none;
}
a:hover,
.here {
  background: var(--p-cadrin-teal-paper);
}
.here {
  font-weight: 650;
}
</style>
