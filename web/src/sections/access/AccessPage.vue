<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { groups, house, schedules } from '@/api/queries'
import { t } from '@/words'

import AccessSide from './AccessSide.vue'
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
import ReviewPanel from './reviews/ReviewPanel.vue'
import type { Looked } from './reviews/reviews'
import type { Part } from './items'
import ScheduleEditor from './ScheduleEditor.vue'

const route = useRoute()
const router = useRouter()
const { data: choices } = useQuery(house)
const { data: allGroups } = useQuery(groups)
const { data: allSchedules } = useQuery(schedules)
const { data: allHolidays } = useQuery(holidays)
const { data: emergencies } = useQuery(releaseGroups)

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

const question = computed(() => QUESTIONS.find((one) => one === chosen.value))
const listed = computed(() => (question.value === 'matrix' ? undefined : question.value))

const opened = (id: number | string) => ({
  name: 'access',
  params: { part: part.value, id: String(id) },
})
const done = (id: number | null) =>
  router.replace(id ? opened(id) : { name: 'access', params: { part: part.value, id: '' } })
</script>

<template>
  <div class="columns stacks">
    <AccessSide :part="part" :chosen="chosen" />
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
  grid-template-columns: clamp(240px, 25vw, 310px) minmax(0, 1fr);
  height: 100%;
}
.editor {
  min-height: 0;
  padding: 14px 20px 24px;
  overflow: auto;
}
</style>
