<script setup lang="ts">
import { computed } from 'vue'

import type { House } from '@/api/client'
import SelectField from '@/kit/controls/SelectField.vue'
import { t, wordsFor } from '@/words'

import { type Choices, type Intake, useTheIntake } from './intake'
import { departmentChoices, ownLabel } from './words'

/** Whom the rows are about: how people are found, and what becomes of the others. */
const props = defineProps<{ intake: Intake; house: House }>()
const { decide } = useTheIntake()

const WAYS = ['number', 'external_id', 'email', 'name_and_birth', 'card', 'photo', 'nobody'] as const
type Way = Choices['match_by']
const ways = computed(() => [
  ...WAYS.map((value) => ({ value: value, word: t(`intake.matchBy.${value}`) })),
  ...props.house.custom_fields.map((one) => ({
    value: `own.${one.id}`,
    word: ownLabel(one.id, props.house),
  })),
])
const way = computed(() =>
  props.intake.choices.match_field
    ? `own.${props.intake.choices.match_field}`
    : props.intake.choices.match_by,
)
function matchBy(value: string) {
  void decide((choices) => {
    const field = value.startsWith('own.') ? Number(value.slice(4)) : 0
    choices.match_field = field
    if (!field) choices.match_by = value as Way
  })
}
const newcomers = computed(() =>
  (['enrol', 'leave_out'] as const).map((value) => ({ value, word: t(`intake.newcomers.${value}`) })),
)
const missing = computed(() =>
  (['nothing', 'suspended', 'departed'] as const).map((value) => ({
    value,
    word: t(`intake.missing.${value}`),
  })),
)
const standings = computed(() => [
  { value: '', word: t('intake.standingAsIs') },
  ...(['active', 'suspended', 'departed'] as const).map((value) => ({
    value,
    word: t(`standings.${value}`),
  })),
])
const undecided = computed(() => props.intake.problems.filter((one) => one.code === 'intake.cannot_match'))
</script>

<template>
  <section>
    <h2>{{ t('intake.whoIsIt') }}</h2>
    <div class="fields">
      <SelectField
        :model-value="way"
        :label="t('intake.matchedBy')"
        :options="ways"
        :problems="undecided"
        @update:model-value="matchBy"
      />
      <SelectField
        :model-value="intake.choices.newcomers"
        :label="t('intake.ifNotThere')"
        :options="newcomers"
        @update:model-value="decide((choices) => (choices.newcomers = $event))"
      />
      <SelectField
        :model-value="intake.choices.defaults.standing"
        :label="t('intake.theirStanding')"
        :options="standings"
        :placeholder="t('intake.standingAsIs')"
        @update:model-value="decide((choices) => (choices.defaults.standing = $event))"
      />
      <SelectField
        :model-value="intake.choices.missing"
        :label="t('intake.ifMissing')"
        :options="missing"
        @update:model-value="decide((choices) => (choices.missing = $event))"
      />
      <template v-if="intake.choices.missing !== 'nothing'">
        <p class="quiet">{{ t('intake.missingHint') }}</p>
        <SelectField
          :model-value="intake.choices.missing_department_id"
          :label="t('intake.missingDepartment')"
          :options="departmentChoices(house)"
          option-value="id"
          show-clear
          filter
          :placeholder="t('intake.anyDepartment')"
          @update:model-value="decide((choices) => (choices.missing_department_id = $event))"
        />
        <SelectField
          :model-value="intake.choices.missing_company_id"
          :label="t('intake.missingCompany')"
          :options="house.companies"
          option-label="name"
          option-value="id"
          show-clear
          :placeholder="t('intake.anyCompany')"
          @update:model-value="decide((choices) => (choices.missing_company_id = $event))"
        />
      </template>
    </div>
    <p v-for="problem in undecided" :key="problem.code" class="unseen">{{ wordsFor(problem) }}</p>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 6px;
  margin-top: 4px;
}
p {
  font-size: 13px;
}
</style>
