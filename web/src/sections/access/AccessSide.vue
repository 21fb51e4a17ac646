<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ListChecks, Plus, Search } from '@lucide/vue'
import InputText from 'primevue/inputtext'
import { computed } from 'vue'

import { groups } from '@/api/queries'
import { textInAddress } from '@/kit/state/addressed'
import { plainWeek } from '@/kit/time/hours'
import LitHours from '@/kit/time/LitHours.vue'
import { useSession } from '@/kit/state/session'
import StateMark from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

import { holidays } from './holidays/holidays'
import KindsList from './holidays/KindsList.vue'
import { type Part, PARTS, useItems } from './items'

/** The parts of the section, and the list of what there is of one; a long one can be searched. */
const props = defineProps<{ part: Part; chosen: string }>()
const session = useSession()
const { isError } = useQuery(groups)
const { data: allHolidays } = useQuery(holidays)

const NEW = {
  groups: 'access.newGroup',
  schedules: 'access.newSchedule',
  holidays: 'holidays.new',
  emergencies: 'doing.newGroup',
} as const
const PART_WORDS = {
  groups: 'access.groups',
  schedules: 'access.schedules',
  holidays: 'access.holidays',
  doors: 'access.doors',
  plan: 'plan.title',
  emergencies: 'doing.emergencies',
  questions: 'questions.title',
  reviews: 'reviews.title',
} as const
const canBeMade = computed(
  () => props.part in NEW && session.may(props.part === 'emergencies' ? 'set_up' : 'groups'),
)
const sought = textInAddress('find')
const { found: items, isLong } = useItems(
  computed(() => props.part),
  sought,
)
/** What was sought stays while one looks at what was found. */
const opened = (id: number | string) => ({
  name: 'access',
  params: { part: props.part, id: String(id) },
  query: sought.value ? { find: sought.value } : {},
})
</script>

<template>
  <div class="side">
    <h1>{{ t('access.title') }}</h1>
    <nav class="parts" :aria-label="t('access.title')">
      <RouterLink
        v-for="one in PARTS"
        :key="one"
        :to="{ name: 'access', params: { part: one } }"
        :class="{ here: one === part }"
        :aria-current="one === part ? 'page' : undefined"
      >
        {{ t(PART_WORDS[one]) }}
      </RouterLink>
    </nav>
    <RouterLink v-if="canBeMade" :to="opened('new')" class="new">
      <Plus :size="14" aria-hidden="true" />
      {{ t(NEW[part as keyof typeof NEW]) }}
    </RouterLink>
    <template v-if="part === 'groups'">
      <RouterLink :to="opened('find')" class="new" :class="{ here: chosen === 'find' }">
        <Search :size="14" aria-hidden="true" /> {{ t('finder.find') }}
      </RouterLink>
      <RouterLink :to="opened('untidy')" class="new" :class="{ here: chosen === 'untidy' }">
        <ListChecks :size="14" aria-hidden="true" /> {{ t('finder.tidyUp') }}
      </RouterLink>
    </template>
    <p v-if="part === 'reviews' && !isLong && !items.length" class="quiet">
      {{ t('reviews.noneAsked') }}
    </p>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <KindsList
      v-if="part === 'holidays' && allHolidays"
      :kinds="allHolidays.kinds"
      :may-edit="session.may('groups')"
    />
    <InputText
      v-if="isLong"
      v-model="sought"
      size="small"
      class="sought"
      :placeholder="t('access.find')"
      :aria-label="t('access.find')"
    />
    <p v-if="isLong && !items.length" class="quiet">{{ t('access.foundNone') }}</p>
    <ul class="items">
      <li v-for="one in items" :key="one.id">
        <RouterLink :to="opened(one.id)" :class="{ here: String(one.id) === chosen }">
          <span class="one-line">{{ one.name }}</span>
          <StateMark v-if="one.state" class="stands" :shape="one.state.shape" :word="one.state.word" />
          <span class="quiet about one-line">{{ one.about }}</span>
          <LitHours v-if="one.lit" :week="plainWeek" :lit="one.lit" :height="8" />
        </RouterLink>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.side {
  display: flex;
  flex-direction: column;
  min-height: 0;
  padding: 14px 12px 0 20px;
  border-right: 1px solid var(--p-cadrin-hairline);
}
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  margin: 10px 0 8px;
  border-bottom: 1px solid var(--p-cadrin-hairline);
}
.parts a {
  padding-bottom: 5px;
  color: var(--p-cadrin-quiet);
  text-decoration: none;
}
.parts .here {
  color: var(--p-cadrin-ink);
  font-weight: 650;
  box-shadow: inset 0 -2px 0 var(--p-cadrin-teal);
}
.new {
  display: flex;
  align-items: center;
  gap: 6px;
  padding: 4px 0;
}
.items {
  flex: 1;
  min-height: 0;
  overflow: auto;
}
.items a {
  display: block;
  padding: 5px 8px;
  border-radius: 4px;
  color: inherit;
  text-decoration: none;
}
.items a:hover {
  background: var(--p-cadrin-teal-paper);
}
.items .here {
  background: var(--p-cadrin-teal-paper);
  box-shadow: inset 3px 0 0 var(--p-cadrin-teal);
}
.stands {
  font-size: 12px;
}
.sought {
  margin-bottom: 6px;
}
.items .one-line {
  display: block;
}
.about {
  font-size: 12px;
}
</style>
