<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'

import { groupPeople } from '@/api/queries'
import { whenWords } from '@/kit/clock'
import { t } from '@/words'

const props = defineProps<{ id: number }>()
const { data } = useQuery(groupPeople(() => props.id))
</script>

<template>
  <section aria-labelledby="group-people" class="people">
    <h2 id="group-people">{{ t('access.people') }}</h2>
    <p v-if="data && !data.length" class="quiet">{{ t('access.noPeople') }}</p>
    <ul class="names">
      <li v-for="one in data" :key="one.cardholder_id" class="one-line">
        <RouterLink :to="{ name: 'cardholder', params: { id: one.cardholder_id }, hash: '#access' }">
          {{ one.name }}
        </RouterLink>
        <span v-if="one.expiry_at" class="quiet">
          {{ t('access.until', { when: whenWords(one.expiry_at) }) }}</span
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
.people {
  margin-top: 22px;
}
.names {
  columns: 3 180px;
  margin-top: 6px;
}
.names span {
  margin-left: 6px;
}
.names a {
  display: inline-block;
  padding: 3px 0;
}
</style>
