<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'

import type { components } from '@/api/schema'
import { client, type Problem, type Schedule, type ScheduleDraft, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { useKeys } from '@/kit/controls/keys'
import { useSession } from '@/kit/state/session'
import { t, weekdays } from '@/words'

import { dayHours, dayText, exampleHours, type Hours } from '@/kit/time/hours'
import { copied } from '@/kit/time/painting'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import TextField from '@/kit/controls/TextField.vue'

import DayPaint from './DayPaint.vue'
import HolidayHoursFields from './HolidayHoursFields.vue'
import HoursEffects from './HoursEffects.vue'

type Holidays = components['schemas']['HolidaysShape']
const props = defineProps<{ schedule: Schedule | undefined; zone: string; holidays: Holidays }>()
const emit = defineEmits<{ done: [id: number | null] }>()

const session = useSession()
const mayEdit = computed(() => session.may('groups'))
const begin = () => ({
  version: props.schedule?.version ?? 0,
  name: props.schedule?.name ?? '',
  zone: props.schedule?.zone ?? props.zone,
  days: weekdays().map((_, weekday) => dayText(props.schedule?.hours ?? [], weekday)),
  calendar_id: props.schedule?.calendar_id ?? null,
  holiday_hours: (props.schedule?.holiday_hours ?? []).map((one) => ({ ...one })),
})
const editor = useEditor('schedule', props.schedule?.id, begin)
const { draft: typed, act, problems, at, isDirty, begun } = editor

const days = computed(() => typed.days.map(dayHours))
const hours = computed(() => days.value.flatMap((day) => day ?? []))
const strips = ref<InstanceType<typeof DayPaint>[] | null>(null)
/** What was painted is written into the days, where it can be typed to the minute. */
const paint = (lit: Hours) => (typed.days = typed.days.map((_, day) => dayText(lit, day)))
const EVERY_DAY = [0, 1, 2, 3, 4, 5, 6]
const copies = (weekday: number) => [
  { word: t('access.toWeekdays'), days: EVERY_DAY.slice(0, 5) },
  { word: t('access.toEveryDay'), days: EVERY_DAY },
  ...EVERY_DAY.filter((day) => day !== weekday).map((day) => ({ word: weekdays()[day], days: [day] })),
]
const areHolidaysReadable = ref(true)
const isReadable = computed(
  () => (typed.calendar_id === null || areHolidaysReadable.value) && days.value.every((day) => day !== null),
)

/** The API counts windows, the screen shows days. */
function atDay(weekday: number): Problem[] {
  return problems.value.filter((one) => {
    const place = /^hours\.(\d+)$/.exec(one.field ?? '')?.[1]
    return place !== undefined && hours.value[Number(place)]?.[0] === weekday
  })
}

const body = computed((): ScheduleDraft => ({
  version: typed.version,
  name: typed.name,
  zone: typed.zone,
  hours: hours.value,
  calendar_id: typed.calendar_id,
  holiday_hours: typed.calendar_id === null ? [] : typed.holiday_hours,
}))
const settled = refDebounced(
  computed(() => JSON.stringify(body.value)),
  250,
)
const { data: effects } = useQuery({
  queryKey: keyOf('schedules', 'weigh', props.schedule?.id, settled),
  queryFn: ({ signal }) =>
    unwrap(
      client.POST('/api/preview/schedule/{id}/', {
        params: { path: { id: props.schedule?.id ?? 0 } },
        body: JSON.parse(settled.value) as ScheduleDraft,
        signal,
      }),
    ),
  enabled: computed(() => mayEdit.value && !!props.schedule && isDirty.value && isReadable.value),
  placeholderData: keepPreviousData,
  retry: false,
  gcTime: 0,
})

async function save() {
  if (!isReadable.value) return
  const id = props.schedule?.id
  const saved = await act(() =>
    id === undefined
      ? unwrap(client.POST('/api/schedules/', { body: body.value }))
      : unwrap(client.PUT('/api/schedules/{id}/', { params: { path: { id } }, body: body.value })),
  )
  if (saved) emit('done', saved.id)
}
async function remove() {
  const id = props.schedule?.id
  if (id === undefined) return
  const gone = await act(async () => {
    await unwrap(client.DELETE('/api/schedules/{id}/', { params: { path: { id } } }))
    return true
  })
  if (gone) emit('done', null)
}
useKeys({ 'Ctrl+S': () => void save() })
</script>

<template>
  <form class="schedule" @submit.prevent="save">
    <div class="fields stacks">
      <TextField v-model="typed.name" :label="t('access.name')" :disabled="!mayEdit" :problems="at('name')" />
      <TextField v-model="typed.zone" :label="t('access.zone')" :disabled="!mayEdit" :problems="at('zone')" />
    </div>
    <h2>{{ t('access.hours') }}</h2>
    <p class="quiet">{{ t('access.hoursHint', exampleHours()) }}</p>
    <p v-if="mayEdit" class="quiet">{{ t('access.paintHint') }}</p>
    <ul class="days">
      <li class="scale" aria-hidden="true">
        <span
          v-for="hour in [0, 6, 12, 18, 24]"
          :key="hour"
          class="mono"
          :style="{ left: `${(hour / 24) * 100}%` }"
          >{{ hour }}</span
        >
      </li>
      <li v-for="(day, weekday) in weekdays()" :key="day" class="stacks">
        <label :for="`day-${weekday}`">{{ day }}</label>
        <DayPaint
          ref="strips"
          :model-value="hours"
          :day="day"
          :weekday="weekday"
          :disabled="!mayEdit || !isReadable"
          @update:model-value="paint"
          @step="(by) => strips?.[(weekday + by + 7) % 7]?.focus()"
        />
        <InputText
          :id="`day-${weekday}`"
          v-model="typed.days[weekday]"
          size="small"
          class="mono"
          :disabled="!mayEdit"
          :invalid="days[weekday] === null || !!atDay(weekday).length"
          :aria-describedby="`day-${weekday}-problem`"
        />
        <Select
          v-if="mayEdit"
          :model-value="null"
          :options="copies(weekday)"
          option-label="word"
          option-value="days"
          size="small"
          :placeholder="t('access.copyTo')"
          :disabled="!isReadable"
          :aria-label="t('access.copyDay', { day })"
          @update:model-value="(others: number[]) => paint(copied(hours, weekday, others))"
        />
        <div class="problem">
          <p v-if="days[weekday] === null" :id="`day-${weekday}-problem`" class="denied" role="alert">
            {{ t('access.notReadable', exampleHours()) }}
          </p>
          <FieldProblem v-else :id="`day-${weekday}-problem`" :problems="atDay(weekday)" />
        </div>
      </li>
    </ul>
    <FieldProblem id="hours-problem" :problems="at('hours')" />
    <h2 class="holidays">{{ t('holidays.onHolidays') }}</h2>
    <div class="fields stacks">
      <SelectField
        v-model="typed.calendar_id"
        :label="t('holidays.calendar')"
        :options="holidays.calendars"
        option-label="name"
        option-value="id"
        show-clear
        :placeholder="t('holidays.followsNone')"
        :disabled="!mayEdit"
        :problems="at('calendar_id')"
      />
    </div>
    <HolidayHoursFields
      v-if="typed.calendar_id !== null"
      :key="begun"
      v-model="typed.holiday_hours"
      v-model:is-readable="areHolidaysReadable"
      :kinds="holidays.kinds"
      :problems-at="(kind) => at(`holiday_hours.${kind}`)"
      :disabled="!mayEdit"
    />
    <HoursEffects v-if="isDirty && effects" :effects="effects" :schedule-name="() => typed.name" />
    <EditorFoot
      v-if="mayEdit"
      :editor="editor"
      :is-unreadable="!isReadable"
      :remove-label="schedule && t('access.removeSchedule')"
      @remove="remove"
    />
  </form>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: minmax(0, 260px) minmax(0, 260px);
  gap: 12px;
  margin-bottom: 18px;
}
.holidays {
  margin: 16px 0 4px;
}
.days li {
  display: grid;
  grid-template-columns: 90px minmax(260px, 1fr) 220px 110px;
  align-items: center;
  gap: 3px 10px;
  padding: 2px 0;
}
@media (width < 1240px) {
  .days li {
    grid-template-columns: 76px minmax(150px, 1fr) minmax(0, 180px) 96px;
  }
}
.problem {
  grid-column: 3 / -1;
}
.days .scale {
  position: relative;
  display: block;
  height: 16px;
  margin: 0 350px 0 100px;
  padding: 0;
  font-size: 12px;
}
.scale span {
  position: absolute;
  transform: translateX(-50%);
  color: var(--p-cadrin-quiet);
}
@media (width < 1000px) {
  .days .scale {
    margin-inline: 0;
  }
  .problem {
    grid-column: auto;
  }
}
</style>
