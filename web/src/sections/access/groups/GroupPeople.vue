<script setup lang="ts">
import { Undo2, X } from '@lucide/vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { groupPeople } from '@/api/queries'
import { useAct } from '@/kit/state/act'
import { endWords, whenWords } from '@/kit/time/clock'
import { useSession } from '@/kit/state/session'
import TableExport from '@/kit/controls/TableExport.vue'
import { t } from '@/words'

import GroupNewcomers from './GroupNewcomers.vue'
import PeopleNames from './PeopleNames.vue'

/** The people of a group: put in, and taken out. */
const props = defineProps<{ id: number; name: string; hasRules: boolean }>()
const queries = useQueryClient()
const mayChange = useSession().may('access')
/** Rules are kept a moment after they are saved, and whenever somebody moves. */
const { data } = useQuery({ ...groupPeople(() => props.id), refetchInterval: () => props.hasRules && 3000 })
const byId = computed(() => new Map((data.value ?? []).map((one) => [one.cardholder_id, one])))
const { data: keptOut } = useQuery({
  queryKey: keyOf('groups', 'kept-out', () => props.id),
  queryFn: ({ signal }) => unwrap(client.GET('/api/groups/{id}/kept-out/', { ...path(), signal })),
})
const { act, isBusy, elsewhere } = useAct()
const gone = ref('')

const table = () =>
  (data.value ?? []).map((one) => [
    one.number,
    one.name,
    one.activation_at ? whenWords(one.activation_at) : '',
    one.expiry_at ? endWords(one.expiry_at) : '',
  ])
const looked = () =>
  Promise.all(
    [keyOf('groups'), keyOf('cardholders', 'list')].map((queryKey) =>
      queries.invalidateQueries({ queryKey }),
    ),
  )
const path = () => ({ params: { path: { id: props.id } } })
async function takeBack(cardholder: number) {
  await act(() => unwrap(client.POST('/api/groups/{id}/kept-out/', { ...path(), body: { cardholder } })))
  await looked()
}
async function remove(cardholder: number, name: string) {
  const body = { cardholders: [cardholder] }
  if (await act(() => unwrap(client.POST('/api/groups/{id}/members/leaving/', { ...path(), body }))))
    gone.value = t('access.tookOut', { name })
  await looked()
}
</script>

<template>
  <section aria-labelledby="group-people" class="people">
    <div class="row">
      <h2 id="group-people">{{ t('access.people') }}</h2>
      <TableExport
        v-if="data?.length"
        :name="name"
        :headings="[t('list.number'), t('list.name'), t('file.activation_at'), t('file.expiry_at')]"
        :rows="table"
      />
    </div>
    <GroupNewcomers v-if="mayChange" :id="id" @added="looked" />
    <p v-if="data && !data.length" class="quiet">{{ t('access.noPeople') }}</p>
    <p role="status">{{ gone }} {{ elsewhere }}</p>
    <PeopleNames
      :people="data ?? []"
      :icon="X"
      :does="(name) => t('access.takeOut', { name })"
      :may-act="mayChange"
      :is-busy="isBusy"
      @act="remove"
    >
      <template #default="{ id: who }">
        <span v-if="byId.get(who)?.is_by_rule" class="quiet">{{ t('groupRules.byRule') }}</span>
        <span v-if="byId.get(who)?.expiry_at" class="quiet">{{
          t('access.until', { when: endWords(byId.get(who)?.expiry_at ?? '') })
        }}</span>
      </template>
    </PeopleNames>
    <template v-if="keptOut?.length">
      <h3>{{ t('groupRules.keptOut') }}</h3>
      <PeopleNames
        :people="keptOut"
        :icon="Undo2"
        :does="(name) => t('groupRules.takeBack', { name })"
        :may-act="mayChange"
        :is-busy="isBusy"
        @act="takeBack"
      />
    </template>
  </section>
</template>

<style scoped>
.people {
  margin-top: 22px;
}
</style>
