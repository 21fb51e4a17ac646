<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { Activity, DoorOpen, IdCard, Lamp, Send, Settings2, Users } from '@lucide/vue'
import { computed } from 'vue'
import { useRoute } from 'vue-router'

import { waiting } from '@/api/queries'
import { t } from '@/words'

const route = useRoute()
const { data } = useQuery(waiting)

const sections = computed(() => [
  { to: { name: 'desk' }, word: t('sections.desk'), icon: Lamp, count: data.value?.desk },
  { to: { name: 'cardholders' }, word: t('sections.cardholders'), icon: Users },
  { to: { name: 'cards' }, word: t('sections.cards'), icon: IdCard },
  { to: { name: 'access' }, word: t('sections.access'), icon: DoorOpen },
  { to: { name: 'delivery' }, word: t('sections.delivery'), icon: Send, count: data.value?.delivery },
  { to: { name: 'activity' }, word: t('sections.activity'), icon: Activity },
  { to: { name: 'setup' }, word: t('sections.setup'), icon: Settings2 },
])
</script>

<template>
  <nav class="sections" :aria-label="t('sections.label')">
    <RouterLink
      v-for="one in sections"
      :key="one.to.name"
      :to="one.to"
      :class="{
        here:
          one.to.name !== 'desk' &&
          (route.path === `/${one.to.name}` || route.path.startsWith(`/${one.to.name}/`)),
      }"
    >
      <component :is="one.icon" :size="16" aria-hidden="true" />
      <span>{{ one.word }}</span>
      <span v-if="one.count" class="count push" :aria-label="t('sections.waits', { count: one.count })">
        {{ one.count }}
      </span>
    </RouterLink>
  </nav>
</template>

<style scoped>
.sections {
  grid-area: nav;
  padding: 10px 8px;
  border-right: 1px solid var(--p-cadrin-hairline);
}
a {
  display: flex;
  align-items: center;
  gap: 9px;
  padding: 7px 8px;
  border-radius: 4px;
  color: var(--p-cadrin-ink);
  text-decoration: none;
}
a:hover {
  background: var(--p-cadrin-teal-paper);
}
a.here,
a.router-link-exact-active {
  background: var(--p-cadrin-teal-paper);
  font-weight: 650;
  box-shadow: inset 3px 0 0 var(--p-cadrin-teal);
}
.count {
  min-width: 20px;
  padding: 0 6px;
  font-size: 12px;
  text-align: center;
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 10px;
  background: var(--p-cadrin-amber-paper);
}
/* on a tablet held upright, or enlarged (WCAG 2.2, 1.4.10), parts stand beneath one another */
@media (width < 1000px) {
  .sections {
    display: flex;
    padding: 2px 8px;
    border: 0;
    border-bottom: 1px solid var(--p-cadrin-hairline);
    overflow-x: auto;
  }
  a {
    flex: none;
  }
}
</style>
