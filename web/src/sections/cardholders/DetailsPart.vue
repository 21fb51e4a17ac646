<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import Textarea from 'primevue/textarea'

import type { FileDraft, House, Problem } from '@/api/client'
import Field from '@/kit/Field.vue'
import { letGo } from '@/kit/let-go'
import { t } from '@/words'

const props = defineProps<{ choices: House; problems: Problem[] }>()
const draft = defineModel<FileDraft>({ required: true })

const at = (field: string) => props.problems.filter((one) => one.field === field)
const texts = ['first_name', 'last_name', 'number', 'title', 'email'] as const
</script>

<template>
  <section id="details" class="part" aria-labelledby="details-head">
    <h2 id="details-head">{{ t('file.details') }}</h2>
    <div class="grid">
      <Field
        v-for="name in texts"
        :key="name"
        v-slot="{ id, describedBy, invalid }"
        :label="t(`file.${name}`)"
        :problems="at(name)"
        :class="name"
      >
        <InputText
          :id="id"
          v-model="draft[name]"
          size="small"
          autocomplete="off"
          :class="{ mono: name === 'number' }"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
      <Field v-slot="{ labelId, invalid }" :label="t('file.department')" :problems="at('department')">
        <Select
          v-model="draft.department"
          :options="choices.departments"
          option-label="name"
          option-value="id"
          size="small"
          filter
          auto-filter-focus
          reset-filter-on-hide
          show-clear
          :invalid="invalid"
          :aria-labelledby="labelId"
          @update:model-value="letGo"
        >
          <template #option="{ option }">
            <span :style="{ paddingLeft: `${option.depth * 16}px` }">
              {{ option.name }} <span class="mono quiet">{{ option.number }}</span>
            </span>
          </template>
        </Select>
      </Field>
      <Field v-slot="{ labelId, invalid }" :label="t('file.kind')" :problems="at('kind')">
        <Select
          v-model="draft.kind"
          :options="choices.kinds"
          option-label="name"
          option-value="id"
          size="small"
          show-clear
          :invalid="invalid"
          :aria-labelledby="labelId"
          @update:model-value="letGo"
        />
      </Field>
      <Field v-slot="{ labelId, invalid }" :label="t('file.company')" :problems="at('company')">
        <Select
          v-model="draft.company"
          :options="choices.companies"
          option-label="name"
          option-value="id"
          size="small"
          filter
          auto-filter-focus
          show-clear
          :invalid="invalid"
          :aria-labelledby="labelId"
          @update:model-value="letGo"
        />
      </Field>
      <Field
        v-slot="{ id, describedBy, invalid }"
        :label="t('file.remarks')"
        :problems="at('remarks')"
        class="wide"
      >
        <Textarea
          :id="id"
          v-model="draft.remarks"
          rows="1"
          auto-resize
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
    </div>
  </section>
</template>

<style scoped>
.part h2 {
  margin-bottom: 8px;
}
.grid {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 12px;
}
.wide {
  grid-column: 1 / -1;
}
</style>
