<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { Plus } from '@lucide/vue'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { OpenSpan } from '@/api/client'
import { groups, house, schedules } from '@/api/queries'
import LitHours from '@/kit/LitHours.vue'
import { useSession } from '@/kit/session'
import StateMark, { type Shape } from '@/kit/StateMark.vue'
import { byName, t } from '@/words'

import DoorPanel from './DoorPanel.vue'
import { doorsNow, markOf, releaseGroups } from './doors/doors'
import ReleaseEditor from './doors/ReleaseEditor.vue'
import QuestionPanel from './questions/QuestionPanel.vue'
import { type Question, QUESTIONS } from './questions/questions'
import GroupEditor from './GroupEditor.vue'
import CalendarEditor from './holidays/CalendarEditor.vue'
import { holidays } from './holidays/holidays'
import KindsList from './holidays/KindsList.vue'
import { litIn, plainWeek } from '@/kit/hours'
import ScheduleEditor from './ScheduleEditor.vue'

const route = useRoute()
const router = useRouter()
const session = useSession()
const { data: choices } = useQuery(house)
const { data: allGroups, isError } = useQuery(groups)
const { data: allSchedules } = useQuery(schedules)
const { data: allHolidays } = useQuery(holidays)
const { data: emergencies } = useQuery(releaseGroups)

const PARTS = ['groups', 'schedules', 'holidays', 'doors', 'emergencies', 'questions'] as const
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
  emergencies: 'doing.emergencies',
  questions: 'questions.title',
} as const
const ABOUT = {
  door: 'questions.aboutDoor',
  unused: 'questions.aboutUnused',
  alone: 'questions.aboutAlone',
  way: 'questions.aboutWay',
  compare: 'questions.aboutCompare',
} as const
const part = computed(() => (route.params.part as (typeof PARTS)[number]) || 'groups')
/** Asked for again and again, so only where it is looked at. */
const { data: stand } = useQuery({ ...doorsNow, enabled: computed(() => part.value === 'doors') })
const chosen = computed(() => String(route.params.id ?? ''))
const isNew = computed(() => chosen.value === 'new')
const group = computed(() => allGroups.value?.find((one) => one.id === Number(chosen.value)))
const schedule = computed(() => allSchedules.value?.find((one) => one.id === Number(chosen.value)))
const calendar = computed(() => allHolidays.value?.calendars.find((one) => one.id === Number(chosen.value)))
const door = computed(() => choices.value?.doors.find((one) => one.id === Number(chosen.value)))

const emergency = computed(() => emergencies.value?.find((one) => one.id === Number(chosen.value)))

const sought = ref('')
const isSought = (one: { name: string; area_name: string }) =>
  `${one.name} ${one.area_name}`.toLowerCase().includes(sought.value.trim().toLowerCase())

const question = computed(() => QUESTIONS.find((one) => one === chosen.value))

interface Item {
  id: number | Question
  name: string
  about: string
  lit: OpenSpan[] | null
  state?: { shape: Shape; word: string }
}
const items = computed<Item[]>(() => {
  if (part.value === 'groups')
    return byName(allGroups.value ?? [], (one) => one.name).map((one) => ({
      id: one.id,
      name: one.name,
      about: `${t('access.doorsOf', new Set(one.grants.map((grant) => grant.door)).size)}, ${t('access.members', one.member_count)}`,
      lit: null,
    }))
  if (part.value === 'schedules')
    return byName(allSchedules.value ?? [], (one) => one.name).map((one) => ({
      id: one.id,
      name: one.name,
      about: t('access.usedBy', one.group_count),
      lit: litIn(one.hours),
    }))
  if (part.value === 'holidays')
    return byName(allHolidays.value?.calendars ?? [], (one) => one.name).map((one) => ({
      id: one.id,
      name: one.name,
      about: `${t('holidays.count', one.days.length)}, ${t('holidays.usedBy', one.schedule_count)}`,
      lit: null,
    }))
  if (part.value === 'emergencies')
    return (emergencies.value ?? []).map((one) => ({
      id: one.id,
      name: one.name,
      about: t('doing.doorCount', one.door_ids.length),
      lit: null,
      state: one.releases.some((release) => release.ended_at === null)
        ? { shape: 'disc' as const, word: t('doing.on') }
        : undefined,
    }))
  if (part.value === 'questions')
    return QUESTIONS.map((one) => ({
      id: one,
      name: t(`questions.${one}`),
      about: t(ABOUT[one]),
      lit: null,
    }))
  const now = new Map((stand.value ?? []).map((one) => [one.id, one]))
  return (choices.value?.doors ?? []).filter(isSought).map((one) => {
    const door = now.get(one.id)
    return {
      id: one.id,
      name: one.name,
      about: `${one.area_name}, ${one.site_name}`,
      lit: null,
      state: door ? markOf(door) : undefined,
    }
  })
})
const opened = (id: number | 'new' | Question) => ({
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
          session.may(part === 'emergencies' ? 'set_up' : 'groups')
        "
        :to="opened('new')"
        class="new"
      >
        <Plus :size="14" aria-hidden="true" />
        {{ t(NEW[part as keyof typeof NEW]) }}
      </RouterLink>
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
        <QuestionPanel
          v-else-if="part === 'questions' && question"
          :key="question"
          :question="question"
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
  grid-template-columns: 290px 1fr;
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
  gap: 2px 14px;
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
