<script setup lang="ts">
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

/** The records of the section: what was read at doors, cards of nobody, and what operators did. */
const mayReadJournal = useSession().may('journal')
</script>

<template>
  <nav class="parts" :aria-label="t('activity.title')">
    <RouterLink :to="{ name: 'activity' }">{{ t('journal.reads') }}</RouterLink>
    <RouterLink :to="{ name: 'unknown-cards' }">{{ t('activity.unknownCards') }}</RouterLink>
    <RouterLink v-if="mayReadJournal" :to="{ name: 'journal' }">{{ t('journal.title') }}</RouterLink>
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
