<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { computed, useId } from 'vue'

import type { CardDraft, House, Problem } from '@/api/client'
import NumberField from '@/kit/controls/NumberField.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import CardHours from './CardHours.vue'

/** What else is said of a card, which few have. */
const props = defineProps<{ formats: House['formats']; problems: Problem[] }>()
const card = defineModel<CardDraft>({ required: true })
const id = useId()
const at = (field: string) => props.problems.filter((one) => one.field === field)
const highestLevel = computed(
  () => props.formats.find((one) => one.id === card.value.format)?.highest_issue_level ?? null,
)
</script>

<template>
  <div class="fields">
    <TextField v-model="card.label" class="label" :label="t('cardTerms.label')" :problems="at('label')" />
    <NumberField
      v-model="card.use_limit"
      class="few"
      :label="t('cardTerms.useLimit')"
      :placeholder="t('cardTerms.noLimit')"
      :problems="at('use_limit')"
    />
    <NumberField
      v-if="highestLevel !== null"
      v-model="card.issue_level"
      class="few"
      :label="t('cardTerms.issueLevel')"
      :placeholder="t('cardTerms.anyLevel')"
      :problems="at('issue_level')"
    />
    <CardHours v-model="card.hours" :problems="at('hours')" />
    <label class="row watched" :for="`${id}-watched`">
      <Checkbox v-model="card.is_watched" binary :input-id="`${id}-watched`" />
      {{ t('cardTerms.watch') }}
    </label>
  </div>
</template>

<style scoped>
.fields {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 6px 10px;
  margin-top: 6px;
}
.label {
  width: 150px;
}
.few {
  width: 92px;
}
.watched {
  width: 100%;
}
</style>
