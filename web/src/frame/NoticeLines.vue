<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import Button from 'primevue/button'
import { computed } from 'vue'
import type { RouteLocationRaw } from 'vue-router'

import { waiting } from '@/api/queries'
import type { components } from '@/api/schema'
import StateMark from '@/kit/controls/StateMark.vue'
import { useSession } from '@/kit/state/session'
import { whenWords } from '@/kit/time/clock'
import { t } from '@/words'

type Notice = components['schemas']['NoticeShape']

/** What needs somebody, on every page, until an operator has seen it. */
const MOST = 2
const { session } = useSession()
const { data } = useQuery(waiting)
const seen = useLocalStorage<string[]>(`cadrin.seen.${session?.operator}`, [])

const unseen = computed(() => (data.value?.notices ?? []).filter((one) => !seen.value.includes(one.key)))
/** What is over is forgotten: told again, should it come back. */
function see(notice: Notice) {
  const present = new Set(data.value?.notices.map((one) => one.key))
  seen.value = [...seen.value.filter((key) => present.has(key)), notice.key]
}
const leads = ({ read_id, controller_id }: Notice): RouteLocationRaw =>
  read_id === null
    ? { name: 'delivery', query: { controller: controller_id } }
    : { name: 'activity', query: { read: read_id } }
</script>

<template>
  <section v-if="unseen.length" class="notices" role="alert" :aria-label="t('notices.label')">
    <p v-for="one in unseen.slice(0, MOST)" :key="one.key">
      <StateMark shape="cross" :word="t(`notices.${one.kind}`, { name: one.name })" />
      <span v-if="one.at" class="quiet">{{ whenWords(one.at) }}</span>
      <RouterLink :to="leads(one)" @click="see(one)">{{ t('notices.look') }}</RouterLink>
      <Button size="small" variant="text" :label="t('notices.seen')" @click="see(one)" />
    </p>
    <p v-if="unseen.length > MOST" class="quiet">{{ t('notices.more', unseen.length - MOST) }}</p>
  </section>
</template>

<style scoped>
.notices {
  grid-area: notices;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 24px;
  padding: 2px 20px;
  border-bottom: 1px solid var(--p-cadrin-hairline);
  background: var(--p-cadrin-amber-paper);
}
.notices p {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 30px;
}
</style>
