<script setup lang="ts">
import { X } from '@lucide/vue'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref, useId } from 'vue'

import type { Problem } from '@/api/client'
import DayField from '@/kit/time/DayField.vue'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { dayHours, dayText, exampleHours } from '@/kit/time/hours'
import { t } from '@/words'

import { type Day, type Kind, MINUTES_A_DAY } from './holidays'

/** One holiday of a calendar. */
defineProps<{ kinds: Kind[]; problemsAt: (field: string) => Problem[]; mayEdit: boolean }>()
const emit = defineEmits<{ remove: [] }>()
const day = defineModel<Day>({ required: true })
const id = useId()

const isWhole = computed(() => day.value.start_minute === 0 && day.value.end_minute === MINUTES_A_DAY)
const written = ref(isWhole.value ? '' : dayText([[0, day.value.start_minute, day.value.end_minute]], 0))
const isReadable = ref(true)
function typed() {
  const found = written.value.trim() ? dayHours(written.value, 0) : [[0, 0, MINUTES_A_DAY]]
  const [window, more] = found ?? []
  isReadable.value = !!window && !more && (window[2] ?? 0) <= MINUTES_A_DAY
  if (!window || !isReadable.value) return
  day.value = { ...day.value, start_minute: window[1] ?? 0, end_minute: window[2] ?? MINUTES_A_DAY }
}
function begins(first: string | null) {
  if (!first) return
  const last = day.value.last < first || day.value.last === day.value.first ? first : day.value.last
  day.value = { ...day.value, first, last }
}
</script>

<template>
  <li>
    <div class="line stacks-late">
      <InputText
        v-model="day.name"
        size="small"
        :disabled="!mayEdit"
        :invalid="!!problemsAt('name').length"
        :aria-label="t('holidays.name')"
      />
      <DayField
        :model-value="day.first"
        :label="t('holidays.first')"
        :problems="problemsAt('first')"
        @update:model-value="begins"
      />
      <DayField
        :model-value="day.last"
        :label="t('holidays.last')"
        :problems="problemsAt('last')"
        @update:model-value="day = { ...day, last: $event ?? day.first }"
      />
      <Select
        v-model="day.kind_id"
        :options="kinds"
        option-label="name"
        option-value="id"
        size="small"
        :disabled="!mayEdit"
        :invalid="!!problemsAt('kind_id').length"
        :aria-label="t('holidays.kind')"
      />
      <InputText
        v-model="written"
        size="small"
        class="mono"
        :placeholder="t('holidays.allDay')"
        :disabled="!mayEdit"
        :invalid="!isReadable"
        :aria-label="t('holidays.part')"
        @change="typed"
      />
      <span class="yearly">
        <Checkbox v-model="day.is_yearly" binary size="small" :input-id="id" :disabled="!mayEdit" />
        <label :for="id">{{ t('holidays.yearly') }}</label>
      </span>
      <button
        v-if="mayEdit"
        type="button"
        class="icon"
        :aria-label="t('holidays.removeDay', { name: day.name })"
        @click="emit('remove')"
      >
        <X :size="14" aria-hidden="true" />
      </button>
    </div>
    <p v-if="!isReadable" class="denied" role="alert">{{ t('access.notReadable', exampleHours()) }}</p>
    <FieldProblem
      :id="`${id}-problem`"
      :problems="[...problemsAt('name'), ...problemsAt('kind_id'), ...problemsAt('end_minute')]"
    />
  </li>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: var(--day-columns);
  gap: 6px;
  align-items: start;
  padding: 3px 0;
}
.line :deep(.field label) {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
.yearly {
  display: flex;
  align-items: center;
  gap: 5px;
  height: 28px;
  font-size: 13px;
}
</style>
