<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive } from 'vue'

import type { House } from '@/api/client'
import { letGo } from '@/kit/controls/let-go'
import { numberWords, t, wordsFor } from '@/words'

import { changeColumn, type FaultGroup, type Intake, useTheIntake } from './intake'
import { namesFor } from './words'

/** A kind of fault: how often, what says so, and what settles all of it at once. */
const props = defineProps<{ group: FaultGroup; intake: Intake; house: House }>()
const emit = defineEmits<{ show: [] }>()
const { decide, leaveOut } = useTheIntake()

const choice = computed(() => props.intake.choices.columns.find((one) => one.column === props.group.column))
const heading = computed(
  () => props.intake.columns.find((one) => one.column === props.group.column)?.heading ?? '',
)
const names = computed(() => (choice.value ? namesFor(choice.value.target, props.house) : null))
const words = computed(() => wordsFor({ code: props.group.code, field: null, params: props.group.params }))

const change = (changes: Parameters<typeof changeColumn>[2]) =>
  void decide((choices) => changeColumn(choices, props.group.column, changes))
const accept = () => void decide((choices) => (choices.accepted = [...choices.accepted, props.group.code]))

/** What settles it at once, without a word about single values. */
const mends = computed<{ word: string; act: () => void }[]>(() => {
  switch (props.group.code) {
    case 'intake.date_ambiguous':
      return [
        { word: t('intake.orders.day_first'), act: () => change({ order: 'day_first' }) },
        { word: t('intake.orders.month_first'), act: () => change({ order: 'month_first' }) },
      ]
    case 'intake.year_short':
      return [
        { word: t('intake.years.past'), act: () => change({ short_years: 'past' }) },
        { word: t('intake.years.near'), act: () => change({ short_years: 'near' }) },
      ]
    case 'intake.lost_zeros': {
      const width = Number(props.group.params.width)
      return [
        { word: t('intake.fillUp', { width }), act: () => change({ width }) },
        { word: t('intake.rightAsTheyAre'), act: () => change({ width: -1 }) },
      ]
    }
    case 'intake.may_be':
    case 'intake.may_be_in_file':
      return [{ word: t('intake.differentPeople'), act: accept }]
    case 'input.invisible_characters':
      return [{ word: t('intake.takeThemOut'), act: accept }]
  }
  return []
})
const isSettledByMends = computed(() => mends.value.length > 0)
const isOfValues = computed(
  () =>
    !isSettledByMends.value &&
    choice.value !== undefined &&
    !['intake.twice_in_file', 'intake.several_match'].includes(props.group.code),
)
const SHOWN = 8
const values = computed(() => (isOfValues.value ? props.group.values.slice(0, SHOWN) : []))

const typed = reactive<Record<string, string>>({})
function replace(before: string, after: string) {
  if (choice.value) change({ replaced: { ...choice.value.replaced, [before]: after } })
}
</script>

<template>
  <li>
    <p>
      <b v-if="heading">{{ heading }}:</b> {{ words }}
      <button type="button" class="plain" @click="emit('show')">
        {{ t('intake.rowsCount', group.count) }}
      </button>
    </p>
    <ul v-if="values.length" class="values">
      <li v-for="value in values" :key="value.text" class="row">
        <span class="one-line said" :title="value.text">{{ value.text }}</span>
        <span class="quiet">{{ value.count > 1 ? `× ${numberWords(value.count)}` : '' }}</span>
        <Select
          v-if="names"
          class="grow"
          size="small"
          :options="names"
          option-label="word"
          option-value="value"
          filter
          auto-filter-focus
          :placeholder="t('intake.isMeant')"
          :aria-label="t('intake.whatIsMeant', { text: value.text })"
          @update:model-value="replace(value.text, $event)"
          @change="letGo"
        />
        <form v-else class="row grow" @submit.prevent="replace(value.text, typed[value.text] ?? '')">
          <InputText
            v-model="typed[value.text]"
            size="small"
            class="grow"
            :placeholder="t('intake.isMeant')"
            :aria-label="t('intake.whatIsMeant', { text: value.text })"
          />
          <Button
            type="submit"
            size="small"
            severity="secondary"
            :label="typed[value.text] ? t('intake.put') : t('intake.empty')"
          />
        </form>
      </li>
    </ul>
    <p v-if="isOfValues && group.values.length > SHOWN" class="quiet">
      {{ t('common.more', { count: group.values.length - SHOWN }) }}
    </p>
    <div class="row mends">
      <Button
        v-for="mend in mends"
        :key="mend.word"
        size="small"
        severity="secondary"
        :label="mend.word"
        @click="mend.act"
      />
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('intake.leaveOut', group.count)"
        @click="leaveOut(group)"
      />
    </div>
  </li>
</template>

<style scoped>
li {
  font-size: 13px;
}
li + li {
  margin-top: 8px;
}
.values {
  margin: 4px 0;
}
.values li {
  gap: 6px;
  margin-top: 3px;
}
.said {
  flex: none;
  max-width: 110px;
  font-weight: 600;
}
.grow {
  flex: 1;
  min-width: 0;
}
.plain {
  padding: 0;
  border: 0;
  background: none;
  color: var(--p-cadrin-teal);
  text-decoration: underline;
  cursor: pointer;
}
.mends {
  flex-wrap: wrap;
  margin-top: 3px;
}
</style>
