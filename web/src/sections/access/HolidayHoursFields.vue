<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { ref, watchEffect } from 'vue'

import type { Problem } from '@/api/client'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { dayHours, dayText, exampleHours } from '@/kit/time/hours'
import { t } from '@/words'

import { type Kind, MINUTES_A_DAY } from './holidays/holidays'

/** What a schedule does on each kind of holiday: as on any day of the week, closed, or hours of its own. */
const props = defineProps<{ kinds: Kind[]; problemsAt: (kind: number) => Problem[]; disabled: boolean }>()
type HolidayHours = { kind: number; hours: number[][] }[]
const hours = defineModel<HolidayHours>({ required: true })
const isReadable = defineModel<boolean>('isReadable', { required: true })

type How = 'week' | 'closed' | 'own'
const hows = (['week', 'closed', 'own'] as const).map((value) => ({
  value,
  word: t(`holidays.how.${value}`),
}))
const lines = ref(
  props.kinds.map((kind) => {
    const found = hours.value.find((one) => one.kind === kind.id)
    const text = dayText(found?.hours.map((window) => [0, ...window]) ?? [], 0)
    const how: How = !found ? 'week' : found.hours.length ? 'own' : 'closed'
    return { kind, how, text }
  }),
)
/** The windows that were typed; null for what cannot be read, or passes midnight. */
function windowsIn(text: string) {
  const found = dayHours(text, 0)
  return found?.every(([, , end = 0]) => end <= MINUTES_A_DAY)
    ? found.map(([, start = 0, end = 0]) => [start, end])
    : null
}
const isBad = (line: (typeof lines.value)[number]) => line.how === 'own' && !windowsIn(line.text)
watchEffect(() => {
  isReadable.value = !lines.value.some(isBad)
})
function changed() {
  hours.value = lines.value
    .filter((line) => line.how !== 'week')
    .map((line) => ({
      kind: line.kind.id,
      hours: line.how === 'own' ? (windowsIn(line.text) ?? []) : [],
    }))
}
</script>

<template>
  <ul>
    <li v-for="line in lines" :key="line.kind.id">
      <span :id="`kind-${line.kind.id}`">{{ line.kind.name }}</span>
      <Select
        v-model="line.how"
        :options="hows"
        option-label="word"
        option-value="value"
        size="small"
        :disabled="disabled"
        :aria-labelledby="`kind-${line.kind.id}`"
        @update:model-value="changed"
      />
      <InputText
        v-if="line.how === 'own'"
        v-model="line.text"
        size="small"
        class="mono"
        :disabled="disabled"
        :invalid="isBad(line)"
        :aria-label="t('holidays.hoursOn', { kind: line.kind.name })"
        @update:model-value="changed"
      />
      <div class="problem">
        <p v-if="isBad(line) && line.text" class="denied" role="alert">
          {{ t('access.notReadable', exampleHours()) }}
        </p>
        <FieldProblem :id="`kind-${line.kind.id}-problem`" :problems="problemsAt(line.kind.id)" />
      </div>
    </li>
  </ul>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 150px 200px 260px 1fr;
  align-items: center;
  gap: 10px;
  padding: 3px 0;
}
.problem:nth-child(3) {
  grid-column: 3 / -1;
}
</style>
