<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import type { Group, House } from '@/api/client'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import { doorsWords } from './at-doors'
import { untidyGroups } from './finder'
import MergeGroups from './MergeGroups.vue'

/** What could be put in order: groups that are nearly the same, empty, of one, and doors nobody opens. */
const props = defineProps<{ choices: House; groups: Group[] }>()
const session = useSession()
const { data, isError } = useQuery(untidyGroups)
const byId = computed(() => new Map(props.groups.map((one) => [one.id, one])))
const pairs = computed(() =>
  (data.value?.alike ?? []).flatMap((pair) => {
    const [one, other] = [byId.value.get(pair.one_id), byId.value.get(pair.other_id)]
    return one && other ? [{ ...pair, one, other, key: `${one.id} ${other.id}` }] : []
  }),
)
const merging = ref('')
const parts = computed(() =>
  (['empty', 'of_one', 'opening_nothing'] as const).map((part) => ({
    part,
    groups: (data.value?.[part] ?? []).flatMap((id) => byId.value.get(id) ?? []),
  })),
)
const doors = computed(() => {
  const names = new Map(props.choices.doors.map((one) => [one.id, one.name]))
  return (data.value?.doors ?? []).map((id) => ({ id, name: names.get(id) ?? '?' }))
})
const likeWords = (likeness: number) =>
  likeness === 1 ? t('finder.same') : t('finder.alike', { percent: Math.floor(likeness * 100) })
</script>

<template>
  <div>
    <h1>{{ t('finder.tidy') }}</h1>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <template v-if="data">
      <h2>{{ t('finder.nearlySame') }}</h2>
      <p v-if="!pairs.length" class="quiet">{{ t('finder.none') }}</p>
      <ul>
        <li v-for="pair in pairs" :key="pair.key" class="pair">
          <div class="row">
            <RouterLink :to="{ name: 'access', params: { part: 'groups', id: pair.one_id } }">{{
              pair.one.name
            }}</RouterLink>
            <span class="quiet">{{ t('finder.and') }}</span>
            <RouterLink :to="{ name: 'access', params: { part: 'groups', id: pair.other_id } }">{{
              pair.other.name
            }}</RouterLink>
            <span class="quiet">{{ likeWords(pair.likeness) }}</span>
            <Button
              v-if="session.may('groups') && session.may('access')"
              class="push"
              size="small"
              severity="secondary"
              :label="t('finder.makeOne')"
              :aria-expanded="merging === pair.key"
              :aria-label="`${t('finder.makeOne')}: ${pair.one.name}, ${pair.other.name}`"
              @click="merging = merging === pair.key ? '' : pair.key"
            />
          </div>
          <p v-if="pair.more.length" class="differs">
            {{ t('finder.onlyIn', { name: pair.other.name, doors: doorsWords(pair.more, choices.doors) }) }}
          </p>
          <p v-if="pair.less.length" class="differs">
            {{ t('finder.onlyIn', { name: pair.one.name, doors: doorsWords(pair.less, choices.doors) }) }}
          </p>
          <MergeGroups
            v-if="merging === pair.key"
            :group="pair.one.member_count > pair.other.member_count ? pair.other : pair.one"
            :other="pair.one.member_count > pair.other.member_count ? pair.one_id : pair.other_id"
            @done="merging = ''"
          />
        </li>
      </ul>
      <template v-for="one in parts" :key="one.part">
        <h2>{{ t(`finder.parts.${one.part}`) }}</h2>
        <p v-if="!one.groups.length" class="quiet">{{ t('finder.none') }}</p>
        <ul class="names">
          <li v-for="group in one.groups" :key="group.id" class="one-line">
            <RouterLink :to="{ name: 'access', params: { part: 'groups', id: group.id } }">{{
              group.name
            }}</RouterLink>
          </li>
        </ul>
      </template>
      <h2>{{ t('finder.doorsOfNobody') }}</h2>
      <p v-if="!doors.length" class="quiet">{{ t('finder.none') }}</p>
      <ul class="names">
        <li v-for="door in doors" :key="door.id" class="one-line">
          <RouterLink :to="{ name: 'access', params: { part: 'doors', id: door.id } }">{{
            door.name
          }}</RouterLink>
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
h2 {
  margin: 18px 0 4px;
}
.pair {
  padding: 5px 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.differs {
  font-size: 13px;
}
.names {
  columns: 3 180px;
}
.names a {
  display: inline-block;
  padding: 3px 0;
}
</style>
