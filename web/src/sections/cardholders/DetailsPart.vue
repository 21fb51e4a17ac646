<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import Textarea from 'primevue/textarea'
import { computed, inject, ref, useId } from 'vue'

import type { FileDraft, House, Problem } from '@/api/client'
import DayField from '@/kit/time/DayField.vue'
import Field from '@/kit/controls/Field.vue'
import { letGo } from '@/kit/controls/let-go'
import { isOnlySeen } from '@/kit/state/only-seen'
import { useSession } from '@/kit/state/session'
import { localeTag, t } from '@/words'

import OwnFields from './OwnFields.vue'
import PhonesField from './PhonesField.vue'

const props = defineProps<{ choices: House; problems: Problem[] }>()
const draft = defineModel<FileDraft>({ required: true })

const at = (field: string) => props.problems.filter((one) => one.field === field)
/** What can still be chosen, and what is chosen already. */
const open = <T extends { id: number; is_retired: boolean }>(all: T[], chosen: number | null | undefined) =>
  all.filter((one) => !one.is_retired || one.id === chosen)
const maySeeBirthDates = useSession().may('birth_dates')
const languages = computed(() => {
  const names = new Intl.DisplayNames([localeTag()], { type: 'language' })
  return props.choices.languages.map((value) => ({ value, word: names.of(value) ?? value }))
})

const extendedId = useId()

const MORE = ['display_override', 'language', 'born_on', 'extended_time'] as const
const isUnfolded = ref(inject(isOnlySeen, false))
/** Folded away until wanted; never when there is something in it, or something wrong with it. */
const isMoreShown = computed(
  () =>
    isUnfolded.value ||
    MORE.some((name) => draft.value[name] || at(name).length) ||
    props.choices.required_fields.includes('born_on'),
)
const texts = ['first_name', 'last_name', 'number', 'title'] as const
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
        :class="{ third: name === 'number' || name === 'title' }"
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
      <Field v-slot="{ labelId, invalid }" class="third" :label="t('file.kind')" :problems="at('kind')">
        <Select
          v-model="draft.kind"
          :options="open(choices.kinds, draft.kind)"
          option-label="name"
          option-value="id"
          size="small"
          show-clear
          :invalid="invalid"
          :aria-labelledby="labelId"
          @update:model-value="letGo"
        />
      </Field>
      <Field v-slot="{ labelId, invalid }" :label="t('file.department')" :problems="at('department')">
        <Select
          v-model="draft.department"
          :options="open(choices.departments, draft.department)"
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
      <Field v-slot="{ labelId, invalid }" :label="t('file.company')" :problems="at('company')">
        <Select
          v-model="draft.company"
          :options="open(choices.companies, draft.company)"
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
      <Field v-slot="{ id, describedBy, invalid }" :label="t('file.email')" :problems="at('email')">
        <InputText
          :id="id"
          v-model="draft.email"
          size="small"
          type="email"
          autocomplete="off"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
      <PhonesField v-model="draft.phones" :problems="problems" />
      <OwnFields v-model="draft.own" :fields="choices.custom_fields" :problems="problems" />
      <template v-if="isMoreShown">
        <Field
          v-slot="{ id, describedBy, invalid }"
          :label="t('file.display_override')"
          :problems="at('display_override')"
          class="third"
        >
          <InputText
            :id="id"
            v-model="draft.display_override"
            size="small"
            autocomplete="off"
            :placeholder="t('file.displayHint')"
            :invalid="invalid"
            :aria-describedby="describedBy"
          />
        </Field>
        <Field
          v-slot="{ labelId, invalid }"
          class="third"
          :label="t('file.language')"
          :problems="at('language')"
        >
          <Select
            :model-value="draft.language || null"
            :options="languages"
            option-label="word"
            option-value="value"
            size="small"
            show-clear
            :placeholder="t('file.siteLanguage')"
            :invalid="invalid"
            :aria-labelledby="labelId"
            @update:model-value="draft.language = ($event as string | null) ?? ''"
          />
        </Field>
        <DayField
          v-if="maySeeBirthDates"
          v-model="draft.born_on"
          class="third"
          :label="t('file.born_on')"
          :problems="at('born_on')"
        />
        <div class="check">
          <Checkbox v-model="draft.extended_time" :input-id="extendedId" binary size="small" />
          <label :for="extendedId">{{ t('file.extended_time') }}</label>
        </div>
      </template>
      <button v-else type="button" class="more" @click="isUnfolded = true">{{ t('file.more') }}</button>
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
  grid-template-columns: repeat(6, 1fr);
  gap: 8px 12px;
}
.grid > :deep(*) {
  grid-column: span 3;
}
.grid > :deep(.third) {
  grid-column: span 2;
}
.grid > :deep(.wide) {
  grid-column: 1 / -1;
}
.check {
  display: flex;
  align-items: center;
  gap: 8px;
  padding-top: 16px;
}
.more {
  grid-column: 1 / -1;
  justify-self: start;
  padding: 0;
  border: 0;
  background: none;
  color: var(--p-cadrin-teal);
  text-decoration: underline;
  cursor: pointer;
}
</style>
