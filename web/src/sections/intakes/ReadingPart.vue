<script setup lang="ts">
import { computed } from 'vue'

import NumberField from '@/kit/controls/NumberField.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import { t, wordsFor } from '@/words'

import { type Intake, useTheIntake } from './intake'

/** How the file is read, and where its table begins. */
const props = defineProps<{ intake: Intake }>()
const { decide } = useTheIntake()

type Encoding = NonNullable<Intake['choices']['reading']['encoding']>
const encodings = computed(() =>
  props.intake.encodings.map((value) => ({ value: value as Encoding, word: value })),
)
const delimiters = computed(() =>
  props.intake.delimiters.map((value) => ({
    value,
    word: value === '\t' ? t('intake.tab') : value === ' ' ? t('intake.space') : value,
  })),
)
const sheets = computed(() => props.intake.reading.sheets.map((value) => ({ value, word: value })))
const read = (change: Partial<Intake['choices']['reading']>) =>
  void decide((choices) => Object.assign(choices.reading, change))
</script>

<template>
  <section>
    <h2>{{ t('intake.whereItBegins') }}</h2>
    <ul v-if="intake.reading.notes.length" class="notes">
      <li v-for="(note, n) in intake.reading.notes" :key="n">{{ wordsFor(note) }}</li>
    </ul>
    <div class="fields">
      <NumberField
        :model-value="intake.choices.header_row"
        :label="t('intake.headerRow')"
        :hint="t('intake.headerRowHint')"
        :min="0"
        :max="intake.rows"
        @update:model-value="
          decide((choices) => {
            choices.header_row = $event
            choices.first_row = ($event ?? 0) + 1
          })
        "
      />
      <NumberField
        :model-value="intake.choices.first_row"
        :label="t('intake.firstRow')"
        :min="1"
        :max="intake.rows"
        @update:model-value="decide((choices) => (choices.first_row = $event ?? 1))"
      />
      <SelectField
        v-if="sheets.length > 1"
        class="wide"
        :model-value="intake.reading.sheet"
        :label="t('intake.sheet')"
        :options="sheets"
        @update:model-value="read({ sheet: $event })"
      />
      <template v-if="intake.reading.encoding">
        <SelectField
          :model-value="intake.reading.encoding as Encoding"
          :label="t('intake.encoding')"
          :options="encodings"
          filter
          @update:model-value="read({ encoding: $event })"
        />
        <SelectField
          :model-value="intake.reading.delimiter"
          :label="t('intake.delimiter')"
          :options="delimiters"
          @update:model-value="read({ delimiter: $event })"
        />
      </template>
    </div>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 8px;
  margin-top: 4px;
}
.wide {
  grid-column: 1 / -1;
}
.notes {
  font-size: 13px;
}
.notes li {
  padding: 2px 0;
}
</style>
