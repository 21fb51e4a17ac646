<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import type { Group, House, Schedule } from '@/api/client'
import { doorPeople } from '@/api/queries'
import LitHours from '@/kit/time/LitHours.vue'
import TableExport from '@/kit/controls/TableExport.vue'
import { places as allPlaces } from '@/sections/setup/queries'
import { numberWords, t } from '@/words'

import { litIn, plainWeek } from '@/kit/time/hours'

import DoorActs from './doors/DoorActs.vue'
import DoorReaders from './doors/DoorReaders.vue'
import InsideList from './doors/InsideList.vue'

/** A door: the groups that open it and when, and everybody who may open it now. */
const props = defineProps<{ door: House['doors'][number]; groups: Group[]; schedules: Schedule[] }>()
const { data } = useQuery(doorPeople(() => props.door.id))

/** Of very many only some stand here; the question has them all, and takes them out. */
const isCut = computed(() => (data.value ? data.value.total > data.value.people.length : false))

const { data: places } = useQuery(allPlaces)
/** The areas on both sides of it that count people. */
const counting = computed(() => {
  const here = places.value?.doors.find((one) => one.id === props.door.id)
  return (places.value?.areas ?? []).filter(
    (one) => one.counts_people && (one.id === here?.area_id || one.id === here?.from_area_id),
  )
})

const grants = computed(() =>
  props.groups.flatMap((group) =>
    group.opens
      .filter((grant) => grant.door === props.door.id)
      .map((grant) => ({
        group,
        way: grant.way,
        schedule: props.schedules.find((one) => one.id === grant.schedule),
      })),
  ),
)
</script>

<template>
  <div>
    <h1>{{ door.name }}</h1>
    <p class="quiet">
      {{ door.area_name }}, {{ door.site_name }}. {{ t('access.controller') }}: {{ door.controller_name }}
    </p>
    <DoorActs :door-id="door.id" />
    <DoorReaders :door-id="door.id" />
    <InsideList v-for="area in counting" :key="area.id" :area="area" />
    <h2>{{ t('access.groupsHere') }}</h2>
    <p v-if="!grants.length" class="quiet">{{ t('access.noGroup') }}</p>
    <ul>
      <li v-for="(one, place) in grants" :key="place" class="grant stacks-late">
        <RouterLink :to="{ name: 'access', params: { part: 'groups', id: one.group.id } }">
          {{ one.group.name }}
        </RouterLink>
        <span class="quiet">
          {{ one.schedule?.name }}{{ one.way === 'both' ? '' : `, ${t(`access.ways.${one.way}`)}` }}
        </span>
        <LitHours :week="plainWeek" :lit="litIn(one.schedule?.hours ?? [])" />
      </li>
    </ul>
    <h2 class="row">
      {{ t('access.whoNow') }} <span v-if="data" class="quiet">{{ numberWords(data.total) }}</span>
      <TableExport
        v-if="data?.total && !isCut"
        :name="door.name"
        :headings="[t('list.name'), t('list.department')]"
        :rows="() => (data?.people ?? []).map((one) => [one.display_name, one.department_name ?? ''])"
      />
    </h2>
    <p v-if="data && !data.total" class="quiet">{{ t('access.nobodyNow') }}</p>
    <ul class="names">
      <li v-for="one in data?.people" :key="one.id">
        <RouterLink :to="{ name: 'cardholder', params: { id: one.id } }">{{ one.display_name }}</RouterLink>
        <span class="quiet"> {{ one.department_name }}</span>
        <span v-if="one.is_by_card_alone" class="tag" :title="t('cardAlone.label')">{{
          t('cardAlone.is')
        }}</span>
      </li>
    </ul>
    <RouterLink
      v-if="data && isCut"
      :to="{ name: 'access', params: { part: 'questions', id: 'door' }, query: { door: door.id } }"
      >{{ t('desk.all', { count: data.total }) }}</RouterLink
    >
  </div>
</template>

<style scoped>
h2 {
  margin: 18px 0 6px;
}
.grant {
  display: grid;
  grid-template-columns: 190px 150px 1fr;
  align-items: center;
  gap: 10px;
  padding: 3px 0;
}
.names {
  columns: 3 200px;
}
.names li {
  break-inside: avoid;
}
.names span {
  margin-left: 6px;
}
.names a {
  display: inline-block;
  padding: 3px 0;
}
</style>
