<script setup lang="ts">
import type { House } from '@/api/client'
import { t } from '@/words'

import type { Intake } from './intake'
import { useTargets } from './words'

/** What was decided about a list that is over: what each of its columns was taken for. */
const props = defineProps<{ intake: Intake; house: House }>()
const { word } = useTargets(
  () => props.intake,
  () => props.house,
)
const targetOf = (n: number) => props.intake.choices.columns.find((one) => one.column === n)?.target ?? ''
</script>

<template>
  <section>
    <h2>{{ t('intake.columns') }}</h2>
    <ul>
      <li v-for="one in intake.columns" :key="one.column">
        <span class="one-line">{{ one.heading || t('intake.columnNumber', { n: one.column + 1 }) }}</span>
        <span class="quiet one-line">{{ word(targetOf(one.column)) }}</span>
      </li>
    </ul>
    <p v-if="!intake.columns.length" class="quiet">{{ t('intake.forgotten') }}</p>
    <p>
      <RouterLink :to="{ name: 'journal', query: { intake: intake.id } }">{{
        t('intake.toJournal')
      }}</RouterLink>
    </p>
  </section>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  padding: 3px 0;
  font-size: 13px;
}
p {
  margin-top: 8px;
  font-size: 13px;
}
</style>
