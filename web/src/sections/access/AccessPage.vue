<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ListChecks, Plus, Search } from '@lucide/vue'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { groups, house, schedules } from '@/api/queries'
import LitHours from '@/kit/LitHours.vue'
import { useSession } from '@/kit/session'
import StateMark from '@/kit/StateMark.vue'
import { t } from '@/words'

import DoorPanel from './DoorPanel.vue'
import { releaseGroups } from './doors/doors'
import ReleaseEditor from './doors/ReleaseEditor.vue'
import PlanPanel from './plan/PlanPanel.vue'
import MatrixPanel from './questions/MatrixPanel.vue'
import QuestionPanel from './questions/QuestionPanel.vue'
import { QUESTIONS } from './questions/asked'
import FinderPanel from './groups/FinderPanel.vue'
import GroupEditor from './groups/GroupEditor.vue'
import TidyPanel from './groups/TidyPanel.vue'
import CalendarEditor from './holidays/CalendarEditor.vue'
import { holidays } from './holidays/holidays'
import KindsList from './holidays/KindsList.vue'
import ReviewPanel from './reviews/ReviewPanel.vue'
import type { Looked } from './reviews/reviews'
import { type Part, PARTS, useItems } from './items'
import { plainWeek } from '@/kit/hours'
import ScheduleEditor from './ScheduleEditor.vue'

const route = useRoute()
const router = useRouter()
const session = useSession()
const { data: choices } = useQuery(house)
const { data: allGroups, isError } = useQuery(groups)
const { data: allSchedules } = useQuery(schedules)
const { data: allHolidays } = useQuery(holidays)
const { data: emergencies } = useQuery(releaseGroups)

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
const part = computed(() => (route.params.part as Part) || 'groups')
const chosen = computed(() => String(route.params.id ?? ''))
const isNew = computed(() => chosen.value === 'new')
const group = computed(() => allGroups.value?.find((one) => one.id === Number(chosen.value)))
const schedule = computed(() => allSchedules.value?.find((one) => one.id === Number(chosen.value)))
const calendar = computed(() => allHolidays.value?.calendars.find((one) => one.id === Number(chosen.value)))
const door = computed(() => choices.value?.doors.find((one) => one.id === Number(chosen.value)))

const looked = computed((): Looked | undefined => {
  const [, id] = /^door-(\d+)$/.exec(chosen.value) ?? []
  const reviewed = id ? choices.value?.doors.find((one) => one.id === Number(id)) : undefined
  if (reviewed) return { kind: 'door', id: reviewed.id, name: reviewed.name }
  return group.value && { kind: 'group', ...group.value }
})
const site = computed(() => choices.value?.sites.find((one) => one.id === Number(chosen.value)))
const emergency = computed(() => emergencies.value?.find((one) => one.id === Number(chosen.value)))

const sought = ref('')

const question = computed(() => QUESTIONS.find((one) => one === chosen.value))
const listed = computed(() => (question.value === 'matrix' ? undefined : question.value))

const items = useItems(part, sought)
const opened = (id: number | string) => ({
  name: 'access',
  params: { part: part.value, id: String(id) },
})
const done = (id: number | null) =>
  router.replace(id ? opened(id) : { name: 'access', params: { part: part.value, id: '' } })
</script>

<template>
  <div class="columns">
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
      <RouterLink
        v-if="
          part !== 'doors' &&
          part !== 'questions' &&
          part !== 'reviews' &&
          part !== 'plan' &&
          session.may(part === 'emergencies' ? 'set_up' : 'groups')
        "
        :to="opened('new')"
        class="new"
      >
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
      <p v-if="part === 'reviews' && !items.length" class="quiet">
        {{ t('reviews.noneAsked') }}
      </p>
      <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
      <KindsList
        v-if="part === 'holidays' && allHolidays"
        :kinds="allHolidays.kinds"
        :may-edit="session.may('groups')"
      />
      <InputText
        v-if="part === 'doors'"
        v-model="sought"
        size="small"
        class="sought"
        :placeholder="t('places.find')"
        :aria-label="t('places.find')"
      />
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
    <div class="editor">
      <template v-if="choices && allSchedules">
        <GroupEditor
          v-if="part === 'groups' && (group || isNew)"
          :key="`${chosen}-${group?.version}`"
          :group="group"
          :choices="choices"
          :schedules="allSchedules"
          @done="done"
        />
        <FinderPanel
          v-else-if="part === 'groups' && chosen === 'find'"
          :choices="choices"
          :groups="allGroups ?? []"
          :schedules="allSchedules"
        />
        <TidyPanel
          v-else-if="part === 'groups' && chosen === 'untidy'"
          :choices="choices"
          :groups="allGroups ?? []"
        />
        <PlanPanel v-else-if="part === 'plan' && site" :key="site.id" :site="site" :doors="choices.doors" />
        <ReviewPanel v-else-if="part === 'reviews' && looked" :key="chosen" :looked="looked" />
        <ScheduleEditor
          v-else-if="part === 'schedules' && allHolidays && (schedule || isNew)"
          :key="`${chosen}-${schedule?.version}`"
          :schedule="schedule"
          :zone="choices.site.zone"
          :holidays="allHolidays"
          @done="done"
        />
        <CalendarEditor
          v-else-if="part === 'holidays' && allHolidays && (calendar || isNew)"
          :key="`${chosen}-${calendar?.version}`"
          :calendar="calendar"
          :kinds="allHolidays.kinds"
          :sites="choices.sites"
          :schedules="allSchedules"
          @done="done"
        />
        <DoorPanel
          v-else-if="part === 'doors' && door"
          :key="door.id"
          :door="door"
          :groups="allGroups ?? []"
          :schedules="allSchedules"
        />
        <MatrixPanel v-else-if="part === 'questions' && question === 'matrix'" />
        <QuestionPanel
          v-else-if="part === 'questions' && listed"
          :key="listed"
          :question="listed"
          :doors="choices.doors"
        />
        <ReleaseEditor
          v-else-if="part === 'emergencies' && (emergency || isNew)"
          :key="`${chosen}-${emergency?.version}`"
          :group="emergency"
          :doors="choices.doors"
          @done="done"
        />
        <p v-else class="quiet">{{ t('access.choose') }}</p>
      </template>
    </div>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 310px 1fr;
  height: 100%;
}
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
.editor {
  min-height: 0;
  padding: 14px 20px 24px;
  overflow: auto;
}
</style>
