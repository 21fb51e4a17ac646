<script setup lang="ts">
import { X } from '@lucide/vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { groupPeople } from '@/api/queries'
import { useAct } from '@/kit/act'
import { whenWords } from '@/kit/clock'
import { useSession } from '@/kit/session'
import { t } from '@/words'

import GroupNewcomers from './GroupNewcomers.vue'

/** The people of a group: put in, and taken out. */
const props = defineProps<{ id: number }>()
const queries = useQueryClient()
const mayChange = useSession().may('access')
const { data } = useQuery(groupPeople(() => props.id))
const { act, isBusy, elsewhere } = useAct()
const gone = ref('')

const looked = () =>
  Promise.all(
    [['groups'], ['cardholders', 'list']].map((queryKey) => queries.invalidateQueries({ queryKey })),
  )
async function remove(cardholder: number, name: string) {
  const body = { cardholders: [cardholder] }
  const path = { params: { path: { id: props.id } } }
  if (await act(() => unwrap(client.POST('/api/groups/{id}/members/leaving/', { ...path, body }))))
    gone.value = t('access.tookOut', { name })
  await looked()
}
</script>

<template>
  <section aria-labelledby="group-people" class="people">
    <h2 id="group-people">{{ t('access.people') }}</h2>
    <GroupNewcomers v-if="mayChange" :id="id" @added="looked" />
    <p v-if="data && !data.length" class="quiet">{{ t('access.noPeople') }}</p>
    <p role="status">{{ gone }} {{ elsewhere }}</p>
    <ul class="names">
      <li v-for="one in data" :key="one.cardholder_id" class="one-line">
        <button
          v-if="mayChange"
          type="button"
          class="out"
          :title="t('access.takeOut', { name: one.name })"
          :aria-label="t('access.takeOut', { name: one.name })"
          :disabled="isBusy"
          @click="remove(one.cardholder_id, one.name)"
        >
          <X :size="12" aria-hidden="true" />
        </button>
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
.out {
  min-width: 24px;
  min-height: 24px;
  padding: 4px;
  border: 0;
  background: none;
  color: var(--p-cadrin-quiet);
  cursor: pointer;
}
.out:hover {
  color: var(--p-cadrin-brick);
}
</style>
