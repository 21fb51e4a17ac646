<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import Textarea from 'primevue/textarea'

import type { House, Problem } from '@/api/client'
import DayField from '@/kit/time/DayField.vue'
import Field from '@/kit/controls/Field.vue'
import { labelOf } from '@/kit/said/labels'
import { t } from '@/words'

/** The fields that the site defined itself, each by its type. */
const props = defineProps<{ fields: House['custom_fields']; problems: Problem[] }>()
const values = defineModel<Record<string, string>>({ required: true })
type OwnField = House['custom_fields'][number]

const at = (field: OwnField) => props.problems.filter((one) => one.field === `own.${field.id}`)
const label = (field: OwnField) => `${labelOf(field.labels)}${field.is_required ? ' *' : ''}`
const choicesOf = (field: OwnField) =>
  field.type === 'yes_no'
    ? ['yes', 'no'].map((value) => ({ value, word: t(value === 'yes' ? 'answers.yes' : 'answers.no') }))
    : field.choices.map((one) => ({ value: one.key, word: labelOf(one.labels) || one.key }))

/** Nothing kept means no value, so that a field nobody touched makes no difference. */
function set(field: OwnField, value: string | null | undefined) {
  const rest = Object.fromEntries(Object.entries(values.value).filter(([id]) => id !== String(field.id)))
  values.value = value ? { ...rest, [field.id]: value } : rest
}
</script>

<template>
  <template v-for="field in fields" :key="field.id">
    <DayField
      v-if="field.type === 'date'"
      class="third"
      :model-value="values[field.id] ?? null"
      :label="label(field)"
      :hint="field.help.en"
      :problems="at(field)"
      @update:model-value="set(field, $event)"
    />
    <Field
      v-else
      v-slot="{ id, labelId, describedBy, invalid }"
      :label="label(field)"
      :hint="field.help.en"
      :problems="at(field)"
      :class="field.type === 'long_text' ? 'wide' : 'third'"
    >
      <Select
        v-if="field.type === 'choice' || field.type === 'yes_no'"
        :model-value="values[field.id] ?? null"
        :options="choicesOf(field)"
        option-label="word"
        option-value="value"
        size="small"
        show-clear
        :placeholder="t('file.noValue')"
        :invalid="invalid"
        :aria-labelledby="labelId"
        @update:model-value="set(field, $event as string | null)"
      />
      <Textarea
        v-else-if="field.type === 'long_text'"
        :id="id"
        :model-value="values[field.id] ?? ''"
        rows="1"
        auto-resize
        :invalid="invalid"
        :aria-describedby="describedBy"
        @update:model-value="set(field, $event)"
      />
      <InputText
        v-else
        :id="id"
        :model-value="values[field.id] ?? ''"
        size="small"
        autocomplete="off"
        :inputmode="field.type === 'number' ? 'decimal' : undefined"
        :invalid="invalid"
        :aria-describedby="describedBy"
        @update:model-value="set(field, $event)"
      />
    </Field>
  </template>
</template>
