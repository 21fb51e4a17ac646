<script setup lang="ts">
import { useSession } from '@/kit/session'
import { t } from '@/words'

/** The two records of the section: what was read at doors, and what operators did. */
const mayReadJournal = useSession().may('journal')
</script>

<template>
  <nav v-if="mayReadJournal" class="parts" :aria-label="t('activity.title')">
    <RouterLink :to="{ name: 'activity' }">{{ t('journal.reads') }}</RouterLink>
    <RouterLink :to="{ name: 'journal' }">{{ t('journal.title') }}</RouterLink>
  </nav>
</template>

<style scoped>
.parts {
  display: flex;
  gap: 4px;
}
a {
  padding: 2px 8px;
  border-radius: 4px;
  color: var(--p-cadrin-ink);
  text-decoration: none;
}
a:hover {
  background: var(--p-cadrin-teal-paper);
}
.router-link-exact-active {
  background: var(--p-cadrin-teal-paper);
  font-weight: 650;
}
</style>
