<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { useConfirm } from 'primevue/useconfirm'
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useAct } from '@/kit/state/act'
import { whenWords } from '@/kit/time/clock'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import { peopleIn } from './doors'

/** Who is counted in an area, and forgiving who is not there. */
const props = defineProps<{ area: { id: number; name: string } }>()
const queries = useQueryClient()
const confirm = useConfirm()
const mayForgive = useSession().may('access')
const { data } = useQuery(peopleIn(() => props.area.id))
const people = computed(() => data.value ?? [])
const { act, isBusy } = useAct()

const looked = () => queries.invalidateQueries({ queryKey: keyOf('doors') })
async function forgive(id: number) {
  await act(() => unwrap(client.DELETE('/api/cardholders/{id}/presence/', { params: { path: { id } } })))
  await looked()
}
function forgiveAll() {
  const { id, name } = props.area
  confirm.require({
    header: `${t('doing.forgiveAll')}: ${name}`,
    message: t('doing.forgiven', people.value.length),
    acceptLabel: t('doing.forgiveAll'),
    rejectLabel: t('common.cancel'),
    accept: () =>
      void act(() => unwrap(client.DELETE('/api/areas/{id}/people/', { params: { path: { id } } }))).then(
        looked,
      ),
  })
}
</script>

<template>
  <section>
    <div class="row">
      <h2>
        {{ t('doing.inside', { area: area.name }) }} <span class="quiet">{{ people.length }}</span>
      </h2>
      <Button
        v-if="mayForgive && people.length > 1"
        size="small"
        severity="secondary"
        variant="text"
        class="push"
        :label="t('doing.forgiveAll')"
        :disabled="isBusy"
        @click="forgiveAll"
      />
    </div>
    <p v-if="!people.length" class="quiet">{{ t('doing.insideNobody') }}</p>
    <ul>
      <li v-for="one in people" :key="one.cardholder_id" class="row">
        <RouterLink :to="{ name: 'cardholder', params: { id: one.cardholder_id } }" class="one-line">{{
          one.name
        }}</RouterLink>
        <span class="quiet">{{ whenWords(one.since) }}</span>
        <button
          v-if="mayForgive"
          type="button"
          class="link"
          :aria-label="`${t('doing.forgive')}: ${one.name}`"
          :disabled="isBusy"
          @click="forgive(one.cardholder_id)"
        >
          {{ t('doing.forgive') }}
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  max-height: 260px;
  overflow: auto;
}
li {
  padding: 2px 0;
}
</style>
