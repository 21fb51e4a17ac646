<script setup lang="ts">
import { useId } from 'vue'
import type { RouteLocationRaw } from 'vue-router'

import { t } from '@/words'

/** A list of work: what waits, how much of it in all, and a plain sentence when there is none. */
defineProps<{ title: string; total: number; empty: string; all?: RouteLocationRaw }>()
const id = useId()
</script>

<template>
  <section class="work" :aria-labelledby="id">
    <div class="head">
      <h2 :id="id">{{ title }}</h2>
      <span class="count" :class="{ quiet: !total }">{{ total }}</span>
      <RouterLink v-if="all && total" :to="all" class="push">{{
        t('desk.all', { count: total })
      }}</RouterLink>
    </div>
    <p v-if="!total" class="quiet">{{ empty }}</p>
    <ul>
      <slot />
    </ul>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  align-items: baseline;
  gap: 8px;
  padding-bottom: 4px;
  border-bottom: 1px solid var(--p-cadrin-hairline);
}
.count {
  font-weight: 650;
}
.work p {
  padding-top: 6px;
}
ul :slotted(li) {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 31px;
  border-bottom: 1px solid var(--p-cadrin-hairline);
}
</style>
