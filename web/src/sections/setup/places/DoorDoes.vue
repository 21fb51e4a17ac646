<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import type { Problem } from '@/api/client'
import { schedules as query } from '@/api/queries'
import CheckLine from '@/kit/controls/CheckLine.vue'
import Field from '@/kit/controls/Field.vue'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import MultiSelect from '@/kit/controls/multi-select'
import NumberField from '@/kit/controls/NumberField.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import { t } from '@/words'

import type { DoorRules } from './places'

/** What a door does beside opening: hours, a second person, an operator’s word, alarms. */
defineProps<{
  /** Doors that it may be made to wait for. */
  others: { id: number; name: string }[]
  at: (field: string) => Problem[]
}>()
const rules = defineModel<DoorRules>({ required: true })
const { data } = useQuery(query)
const schedules = computed(() => (data.value ?? []).map((one) => ({ value: one.id, word: one.name })))
</script>

<template>
  <fieldset>
    <legend>{{ t('doing.title') }}</legend>
    <div class="pair">
      <SelectField
        v-model="rules.unlocked_schedule_id"
        :label="t('doing.unlockedHours')"
        :options="schedules"
        show-clear
        :placeholder="t('doing.none')"
        :problems="at('unlocked_schedule_id')"
      />
      <SelectField
        v-model="rules.closed_schedule_id"
        :label="t('doing.closedHours')"
        :options="schedules"
        show-clear
        :placeholder="t('doing.none')"
        :problems="at('closed_schedule_id')"
      />
    </div>
    <CheckLine
      v-if="rules.unlocked_schedule_id || rules.first_person"
      v-model="rules.first_person"
      :label="t('doing.firstPerson')"
    />
    <FieldProblem id="first-person" :problems="at('first_person')" />
    <div class="three">
      <NumberField
        v-model="rules.second_seconds"
        :label="t('doing.second')"
        :placeholder="t('doing.never')"
        :problems="at('second_seconds')"
      />
      <NumberField
        v-model="rules.consent_seconds"
        :label="t('doing.consent')"
        :placeholder="t('doing.never')"
        :problems="at('consent_seconds')"
      />
      <NumberField
        v-model="rules.held_seconds"
        :label="t('doing.held')"
        :placeholder="t('doing.never')"
        :problems="at('held_seconds')"
      />
    </div>
    <CheckLine v-model="rules.tells_forced" :label="t('doing.forced')" />
    <CheckLine v-model="rules.has_exit_button" :label="t('doing.button')" />
    <Field v-slot="{ labelId }" :label="t('doing.interlock')" :problems="at('interlock')">
      <MultiSelect
        v-model="rules.interlock"
        :options="others"
        option-label="name"
        option-value="id"
        size="small"
        display="chip"
        filter
        :placeholder="t('doing.noInterlock')"
        :aria-labelledby="labelId"
      />
    </Field>
  </fieldset>
</template>

<style scoped>
fieldset {
  display: flex;
  flex-direction: column;
  gap: 8px;
  margin: 6px 0 0;
  padding: 8px 0 0;
  border: 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
legend {
  float: left;
  width: 100%;
  padding: 0;
  font-weight: 650;
}
.pair,
.three {
  display: grid;
  grid-template-columns: 1fr 1fr;
  align-items: end;
  gap: 10px;
}
.three {
  grid-template-columns: 1fr 1fr 1fr;
}
</style>
