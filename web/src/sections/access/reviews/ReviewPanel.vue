<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { useAct } from '@/kit/state/act'
import { endWords, whenWords } from '@/kit/time/clock'
import { useSession } from '@/kit/state/session'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import { keyOf } from '@/api/keys'
import { decideOf, endReviewOf, type Looked, peopleToReview, recordOf } from './reviews'

/** Go through the people of a group or a door: each is kept or taken out, with a reason. */
const props = defineProps<{ looked: Looked }>()
const isDoor = props.looked.kind === 'door'
const session = useSession()
const mayDecide = session.may('access')
const queries = useQueryClient()
const { data: people, isError } = useQuery(peopleToReview(() => props.looked))
const ticked = ref<number[]>([])
const reason = ref('')
const left = computed(() => (people.value ?? []).filter((one) => one.is_kept === null))
const { act, isBusy, at, elsewhere } = useAct()
const told = ref('')

const refresh = () =>
  Promise.all(
    [keyOf('reviews'), keyOf('groups'), keyOf('desk'), keyOf('cardholders')].map((queryKey) =>
      queries.invalidateQueries({ queryKey }),
    ),
  )
async function decide(isKept: boolean) {
  const body = { cardholders: ticked.value, is_kept: isKept, reason: reason.value }
  const done = await act(() => decideOf(props.looked, body))
  if (!done) return
  ticked.value = []
  told.value = ''
  await refresh()
}
async function end() {
  const done = await act(async () => {
    await endReviewOf(props.looked)
    return true
  })
  if (done) told.value = t('reviews.ended')
  await refresh()
}
</script>

<template>
  <div>
    <div class="row">
      <h1>{{ t(isDoor ? 'reviews.atDoor' : 'reviews.of', { name: looked.name }) }}</h1>
      <a v-if="session.may('export')" class="push" :href="recordOf(looked)" download>
        {{ t('reviews.record') }}
      </a>
    </div>
    <p v-if="looked.remarks" class="quiet">{{ looked.remarks }}</p>
    <p v-if="isDoor" class="quiet">{{ t('reviews.fromGroups') }}</p>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <template v-if="people">
      <div v-if="mayDecide" class="deciding">
        <Button
          size="small"
          severity="secondary"
          :label="t('reviews.tickLeft')"
          :disabled="!left.length"
          @click="ticked = left.map((one) => one.cardholder_id)"
        />
        <TextField v-model="reason" :label="t('reviews.reason')" :problems="at('reason')" />
        <Button
          size="small"
          :label="t('reviews.keep')"
          :disabled="!ticked.length || isBusy"
          @click="decide(true)"
        />
        <Button
          size="small"
          severity="danger"
          :label="t('reviews.takeOut')"
          :disabled="!ticked.length || isBusy"
          @click="decide(false)"
        />
        <span class="quiet">{{ ticked.length ? t('reviews.ticked', ticked.length) : '' }}</span>
      </div>
      <p role="status">
        {{ left.length ? t('reviews.left', left.length) : t('reviews.nobodyLeft') }}
        {{ told }} <span class="denied">{{ elsewhere }}</span>
      </p>
      <Button
        v-if="mayDecide && !left.length"
        size="small"
        severity="secondary"
        :label="t('reviews.end')"
        :disabled="isBusy"
        @click="end"
      />
      <p v-if="!people.length" class="quiet">{{ t('access.noPeople') }}</p>
      <table v-else>
        <thead>
          <tr>
            <td v-if="mayDecide"></td>
            <th scope="col">{{ t('questions.columns.name') }}</th>
            <th scope="col">{{ t('questions.columns.number') }}</th>
            <th v-if="isDoor" scope="col">{{ t('reviews.by') }}</th>
            <th scope="col">{{ t(isDoor ? 'reviews.lastLetInHere' : 'reviews.lastLetIn') }}</th>
            <th scope="col">{{ t('reviews.decided') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in people" :key="one.cardholder_id">
            <td v-if="mayDecide">
              <input
                v-model="ticked"
                type="checkbox"
                :value="one.cardholder_id"
                :aria-label="t('reviews.tick', { name: one.name })"
              />
            </td>
            <td>
              <RouterLink :to="{ name: 'cardholder', params: { id: one.cardholder_id }, hash: '#access' }">{{
                one.name
              }}</RouterLink>
              <span v-if="one.expiry_at" class="quiet">
                {{ t('access.until', { when: endWords(one.expiry_at) }) }}</span
              >
            </td>
            <td class="mono">{{ one.number }}</td>
            <td v-if="isDoor">
              {{ one.groups.join(', ') }}
              <span v-if="one.loses" class="quiet">{{ t('reviews.opensMore', one.loses) }}</span>
            </td>
            <td>{{ one.last_at ? whenWords(one.last_at) : t('questions.never') }}</td>
            <td>
              <template v-if="one.is_kept">{{ t('reviews.kept') }}: {{ one.reason }}</template>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </div>
</template>

<style scoped>
.deciding {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 10px;
  margin: 12px 0 6px;
}
.deciding > :nth-child(2) {
  flex: 0 1 300px;
}
table {
  width: 100%;
  margin-top: 8px;
  border-collapse: collapse;
}
th {
  padding: 4px 12px 4px 0;
  text-align: left;
  font-weight: 650;
}
td {
  padding: 3px 12px 3px 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
thead td {
  border-top: 0;
}
td:has(input) {
  width: 34px;
}
input {
  width: 24px;
  height: 18px;
}
</style>
