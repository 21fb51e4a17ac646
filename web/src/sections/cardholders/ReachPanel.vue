<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Slider from 'primevue/slider'
import { computed, ref } from 'vue'

import type { Consequences, DoorReach, House } from '@/api/client'
import { flagInAddress, numberInAddress } from '@/kit/state/addressed'
import { weekdayWords, whenWords } from '@/kit/time/clock'
import LitHours from '@/kit/time/LitHours.vue'
import { shapeOfDoor } from '@/kit/controls/marks'
import StateMark from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

import { MANY, reachByArea } from './reach'

/** Every door for one cardholder: now, and through the week, at any instant asked for. */
const props = defineProps<{
  consequences: Consequences
  doors: House['doors']
  groups: House['groups']
  inForce: { start: string | null; end: string | null }
  /** Controllers that do not know yet what was taken away: their doors go by an older record. */
  stillWorksAt: number[]
  /** Controllers that do not answer at present. */
  silentAt: string[]
}>()
const asOf = defineModel<string | null>('asOf', { required: true })

const MINUTE = 60_000
const STEP_MINUTES = 15
const unfolded = numberInAddress('why')
const start = ref(Date.parse(props.consequences.week.start))
const minutes = Math.round((Date.parse(props.consequences.week.end) - start.value) / MINUTE)

const at = computed({
  get: () => Math.round((Date.parse(props.consequences.as_of) - start.value) / MINUTE),
  set: (value) => (asOf.value = new Date(start.value + value * MINUTE).toISOString()),
})
// while one scrubs the strips stay put: the week is the one that began when the page was opened
const week = computed(() => ({
  start: new Date(start.value).toISOString(),
  end: new Date(start.value + minutes * MINUTE).toISOString(),
}))

/** Two letters a day are enough, and all that there is room for. */
const days = computed(() =>
  Array.from({ length: 7 }, (_, day) =>
    weekdayWords(new Date(start.value + (day + 0.5) * 24 * 60 * MINUTE)).slice(0, 2),
  ),
)

const sought = ref('')
const isWhole = flagInAddress('doors')
const isMany = computed(() => props.consequences.reach.length > MANY)
const shown = computed(() =>
  reachByArea(props.consequences.reach, props.doors, props.stillWorksAt, sought.value, isWhole.value),
)
const openCount = computed(() => props.consequences.reach.filter((one) => one.is_open).length)

function words(reach: DoorReach): string {
  const group = props.groups.find((one) => one.id === reach.group)?.name
  const by = group ? ` (${t('reach.by', { group })})` : ''
  if (!reach.changes_at) return t(`reasons.${reach.reason}`) + by
  const change = t(reach.is_open ? 'reach.until' : 'reach.opens', { when: whenWords(reach.changes_at) })
  return `${t(`reasons.${reach.reason}`)}${by}, ${change}`
}
function markWords(reach: DoorReach): string {
  if (reach.is_open) return t('states.open')
  return reach.open_spans.length ? t('states.otherTimes') : t('states.shut')
}
</script>

<template>
  <section class="reach" aria-labelledby="reach-head">
    <div class="head">
      <div class="row">
        <h2 id="reach-head">{{ t('reach.title') }}</h2>
        <span class="quiet">{{
          t('reach.counts', { open: openCount, all: consequences.reach.length })
        }}</span>
        <button v-if="asOf" type="button" class="now push" @click="asOf = null">{{ t('reach.now') }}</button>
      </div>
      <p class="quiet">{{ t('reach.asOf', { when: whenWords(consequences.as_of) }) }}</p>
      <p v-if="stillWorksAt.length" class="denied">! {{ t('delivery.stillWorksThere') }}</p>
      <p v-else-if="silentAt.length">{{ t('reach.silent', { names: silentAt.join(', ') }) }}</p>
      <Slider
        v-model="at"
        class="scrub"
        :min="0"
        :max="minutes - STEP_MINUTES"
        :step="STEP_MINUTES"
        :aria-label="t('reach.scrub')"
      />
      <ol class="days" aria-hidden="true">
        <li v-for="day in days" :key="day">{{ day }}</li>
      </ol>
    </div>
    <InputText
      v-if="isMany"
      v-model="sought"
      size="small"
      class="sought"
      :placeholder="t('places.find')"
      :aria-label="t('places.find')"
    />
    <div class="areas">
      <section v-for="area in shown.areas" :key="area.name">
        <h3>{{ area.name }}</h3>
        <ul>
          <li v-for="door in area.doors" :key="door.id">
            <button
              type="button"
              class="door"
              :aria-expanded="unfolded === door.id"
              @click="unfolded = unfolded === door.id ? null : door.id"
            >
              <StateMark :shape="shapeOfDoor(door.reach)" :word="markWords(door.reach)" is-word-hidden />
              <span class="one-line name" :class="{ denied: door.isOld }">
                {{ door.name }}<span v-if="door.isOld" aria-hidden="true"> !</span
                ><span v-if="door.isOtherOut" class="quiet">, {{ t('reach.wayIn') }}</span>
              </span>
              <LitHours
                :week="week"
                :lit="door.reach.open_spans"
                :at="consequences.as_of"
                :in-force="inForce"
              />
            </button>
            <p v-if="unfolded === door.id" class="why">{{ words(door.reach) }}</p>
            <p v-if="door.isOtherOut || (unfolded === door.id && door.reach.reason_out)" class="why">
              {{ t('reach.wayOut', { words: t(`reasons.${door.reach.reason_out}`) }) }}
            </p>
          </li>
        </ul>
      </section>
      <button v-if="shown.folded" type="button" class="now folded" @click="isWhole = true">
        {{ t('reach.folded', shown.folded) }}
      </button>
    </div>
  </section>
</template>

<style scoped>
.reach {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
}
.head {
  padding: 12px 16px 4px;
  border-bottom: 1px solid var(--p-cadrin-hairline);
}
.head p {
  font-size: 12px;
}
.scrub {
  margin: 10px 0 8px 134px;
}
.days {
  display: grid;
  grid-template-columns: repeat(7, 1fr);
  margin-left: 134px;
  font-size: 12px;
  color: var(--p-cadrin-quiet);
}
.now {
  padding: 0 6px;
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 4px;
  background: none;
  color: var(--p-cadrin-teal);
  cursor: pointer;
}
.sought {
  margin: 8px 16px 0;
}
.folded {
  margin-top: 8px;
}
.areas {
  flex: 1;
  padding: 4px 16px 12px;
  overflow: auto;
}
h3 {
  margin-top: 8px;
  font-size: 12px;
  color: var(--p-cadrin-quiet);
}
.door {
  display: grid;
  grid-template-columns: 14px 104px 1fr;
  align-items: center;
  gap: 8px;
  width: 100%;
  padding: 2px 0;
  border: 0;
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
.door:hover {
  background: var(--p-cadrin-teal-paper);
}
.why {
  padding: 2px 0 6px 22px;
  font-size: 13px;
  color: var(--p-cadrin-quiet);
}
</style>
