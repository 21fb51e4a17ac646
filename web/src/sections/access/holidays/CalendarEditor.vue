<script setup lang="ts">
import { ChevronLeft, ChevronRight, Plus } from '@lucide/vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { client, type House, type Problem, type Schedule, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useKeys } from '@/kit/controls/keys'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import { useSession } from '@/kit/state/session'
import TextField from '@/kit/controls/TextField.vue'
import { t, wordsFor } from '@/words'

import HoursEffects from '../HoursEffects.vue'
import DayLine from './DayLine.vue'
import { type Calendar, type Day, type FoundDay, type Kind, MINUTES_A_DAY } from './holidays'
import MoreDays from './MoreDays.vue'
import YearView from './YearView.vue'

/** A calendar of holidays: its days, as a list and as a year, and what saving it would change. */
const props = defineProps<{
  calendar: Calendar | undefined
  kinds: Kind[]
  sites: House['sites']
  schedules: Schedule[]
}>()
const emit = defineEmits<{ done: [id: number | null] }>()
const mayEdit = useSession().may('groups')

const plain = (day: Day): Day => ({ ...day })
const editor = useEditor('calendar', props.calendar?.id, () => ({
  version: props.calendar?.version ?? 0,
  name: props.calendar?.name ?? '',
  site_id: props.calendar?.site_id ?? props.sites[0]?.id ?? 0,
  days: (props.calendar?.days ?? []).map(plain),
}))
const { draft, act, problems, at, isDirty, begun } = editor
const year = ref(new Date().getFullYear())
const site = computed(() => props.sites.find((one) => one.id === draft.site_id))

const atDay = (place: number) => (field: string) =>
  problems.value.filter((one: Problem) => one.field === `days.${place}.${field}`)
const kind = computed(() => draft.days.at(-1)?.kind_id ?? props.kinds[0]?.id ?? 0)
function add(found: FoundDay[]) {
  const known = new Set(draft.days.map((one) => `${one.first} ${one.name}`))
  const fresh = found.filter((one) => !known.has(`${one.first} ${one.name}`))
  draft.days.push(...fresh.map((one) => ({ ...one, kind_id: kind.value })))
  draft.days.sort((one, other) => one.first.localeCompare(other.first))
}
function addOne() {
  const first = `${year.value}-12-31`
  draft.days.push({
    name: '',
    kind_id: kind.value,
    first,
    last: first,
    is_yearly: false,
    start_minute: 0,
    end_minute: MINUTES_A_DAY,
  })
}

const settled = refDebounced(
  computed(() => JSON.stringify(draft)),
  250,
)
const path = () => ({ params: { path: { id: props.calendar?.id ?? 0 } } })
const { data: effects } = useQuery({
  queryKey: keyOf('schedules', 'weigh-calendar', props.calendar?.id, settled),
  queryFn: ({ signal }) => {
    const body = JSON.parse(settled.value) as typeof draft
    return unwrap(client.POST('/api/preview/calendar/{id}/', { ...path(), body, signal }))
  },
  enabled: computed(() => mayEdit && !!props.calendar && isDirty.value),
  placeholderData: keepPreviousData,
  retry: false,
  gcTime: 0,
})

async function save() {
  const id = props.calendar?.id
  const saved = await act(() =>
    unwrap(
      id === undefined
        ? client.POST('/api/holidays/', { body: draft })
        : client.PUT('/api/holidays/{id}/', { ...path(), body: draft }),
    ),
  )
  if (saved) emit('done', saved.id)
}
async function remove() {
  if (await act(() => unwrap(client.DELETE('/api/holidays/{id}/', path())).then(() => true)))
    emit('done', null)
}
useKeys({ 'Ctrl+S': () => void save() })
const scheduleName = (id: number) => props.schedules.find((one) => one.id === id)?.name ?? '?'
</script>

<template>
  <form class="calendar" @submit.prevent="save">
    <div class="fields stacks-late">
      <TextField v-model="draft.name" :label="t('access.name')" :problems="at('name')" :disabled="!mayEdit" />
      <SelectField
        v-model="draft.site_id"
        :label="t('places.site')"
        :options="sites"
        option-label="name"
        option-value="id"
        :disabled="!mayEdit"
        :problems="at('site_id')"
      />
      <p class="quiet used">{{ calendar ? t('holidays.usedBy', calendar.schedule_count) : '' }}</p>
    </div>
    <p v-if="!kinds.length" class="denied">{{ t('holidays.needsKind') }}</p>
    <div class="row head">
      <h2>{{ t('holidays.days') }}</h2>
      <Button v-if="mayEdit && kinds.length" size="small" severity="secondary" class="push" @click="addOne">
        <Plus :size="14" aria-hidden="true" /> {{ t('holidays.addDay') }}
      </Button>
      <a v-if="calendar" :href="`/api/holidays/${calendar.id}/file/`" download>{{ t('holidays.asFile') }}</a>
    </div>
    <p v-if="!draft.days.length" class="quiet">{{ t('holidays.noDays') }}</p>
    <p v-if="at('days').length" class="denied">{{ at('days').map(wordsFor).join(' ') }}</p>
    <p v-if="draft.days.length" class="heads" aria-hidden="true">
      <span>{{ t('holidays.name') }}</span><span>{{ t('holidays.first') }}</span
      ><span>{{ t('holidays.last') }}</span
      ><span>{{ t('holidays.kind') }}</span
      ><span>{{ t('holidays.part') }}</span>
    </p>
    <ul class="days">
      <DayLine
        v-for="(day, place) in draft.days"
        :key="`${begun} ${place} ${draft.days.length}`"
        :model-value="day"
        :kinds="kinds"
        :problems-at="atDay(place)"
        :may-edit="mayEdit"
        @update:model-value="draft.days[place] = $event"
        @remove="draft.days.splice(place, 1)"
      />
    </ul>
    <MoreDays v-if="mayEdit && kinds.length" @add="add" />
    <HoursEffects v-if="isDirty && effects" :effects="effects" :schedule-name="scheduleName" />
    <EditorFoot
      v-if="mayEdit"
      :editor="editor"
      :remove-label="calendar && t('holidays.remove')"
      :remove-question="t('places.removeAsk', { name: draft.name })"
      @remove="remove"
    />
    <div class="row year-head">
      <button type="button" class="icon" :aria-label="t('holidays.yearBefore')" @click="year -= 1">
        <ChevronLeft :size="16" aria-hidden="true" />
      </button>
      <h2>{{ year }}</h2>
      <button type="button" class="icon" :aria-label="t('holidays.yearAfter')" @click="year += 1">
        <ChevronRight :size="16" aria-hidden="true" />
      </button>
    </div>
    <YearView :days="draft.days" :year="year" :zone="site?.zone ?? 'UTC'" />
  </form>
</template>

<style scoped>
.calendar {
  --day-columns: minmax(130px, 1.6fr) 104px 104px minmax(110px, 1fr) 110px 76px 24px;
}
@media (width < 1240px) {
  .calendar {
    --day-columns: minmax(78px, 1.6fr) 104px 104px minmax(64px, 1fr) 72px 56px 24px;
  }
}
.fields {
  display: grid;
  grid-template-columns: minmax(0, 260px) minmax(0, 260px) minmax(90px, 1fr);
  gap: 12px;
  align-items: end;
  margin-bottom: 14px;
}
.used {
  padding-bottom: 4px;
}
.head {
  gap: 12px;
}
.heads {
  display: grid;
  grid-template-columns: var(--day-columns);
  gap: 6px;
  font-size: 12px;
  color: var(--p-cadrin-quiet);
}
.days {
  max-height: 340px;
  overflow: auto;
}
.year-head {
  margin-top: 14px;
}
</style>
