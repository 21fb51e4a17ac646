<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'

import type { Gap, House, State } from '@/api/client'
import { letGo } from '@/kit/let-go'
import { labelOf } from '@/kit/labels'
import { t } from '@/words'

import { type Filters, filtersIn } from './filters'

/** The filters, read as one plain sentence. */
const props = defineProps<{ choices: House }>()
const filters = defineModel<Filters>({ required: true })
const emit = defineEmits<{ clear: [] }>()

const STATES: State[] = ['in_force', 'pending', 'expired', 'suspended', 'barred', 'departed']
const GAPS: Gap[] = [
  'no_card',
  'no_card_in_force',
  'no_access_group',
  'groups_open_nothing',
  'no_membership_in_force',
  'no_consent',
  'no_finger',
  'no_finger_in_force',
  'no_face',
  'no_face_in_force',
  'not_held',
]
const states = STATES.map((value) => ({ value, word: t(`states.${value}`) }))
const departments = computed(() =>
  props.choices.departments.map(({ id, name }) => ({ value: id, word: t('list.andBelow', { name }) })),
)
const groups = computed(() => props.choices.groups.map(({ id, name }) => ({ value: id, word: name })))
const endings = [7, 14, 30, 90].map((days) => ({ value: days, word: t('list.within', { days }) }))

const readiness = [
  { value: 'not_ready', word: t('list.notReady') },
  ...GAPS.map((value) => ({ value, word: t('list.because', { gap: t(`gaps.${value}`) }) })),
]
const lacking = computed({
  get: () => (filters.value.not_ready ? 'not_ready' : (filters.value.gap ?? null)),
  set: (value: string | null) => {
    filters.value.not_ready = value === 'not_ready' || undefined
    filters.value.gap = value && value !== 'not_ready' ? (value as Gap) : undefined
  },
})
const named = (all: { id: number; name: string }[]) => all.map(({ id, name }) => ({ value: id, word: name }))
const companies = computed(() => named(props.choices.companies))
const kinds = computed(() => named(props.choices.kinds))
const ownFields = computed(() =>
  props.choices.custom_fields.map(({ id, labels }) => ({ value: id, word: labelOf(labels) })),
)
const own = computed(() => props.choices.custom_fields.find((one) => one.id === filters.value.custom_field))
const ownChoices = computed(() =>
  own.value?.type === 'yes_no'
    ? (['yes', 'no'] as const).map((value) => ({ value, word: t(`answers.${value}`) }))
    : (own.value?.choices.map((one) => ({ value: one.key, word: labelOf(one.labels) || one.key })) ?? []),
)
const isUnfolded = ref(false)
const isMoreShown = computed(
  () =>
    isUnfolded.value ||
    !!(
      filters.value.company ??
      filters.value.kind ??
      filters.value.custom_field ??
      filters.value.by_card_alone
    ),
)
const isAnySet = computed(() => Object.keys(filtersIn(filters.value)).length > 0)
/** Leaving a list once something is chosen makes the next letter a key again. */
const shared = {
  optionLabel: 'word',
  optionValue: 'value',
  size: 'small',
  showClear: true,
  'onUpdate:modelValue': letGo,
} as const
</script>

<template>
  <div class="sentence">
    <InputText
      v-model="filters.text"
      size="small"
      class="text"
      :placeholder="t('list.text')"
      :aria-label="t('list.text')"
    />
    <span>{{ t('list.whoAre') }}</span>
    <Select
      v-model="filters.state"
      v-bind="shared"
      :options="states"
      :placeholder="t('list.anyState')"
      :aria-label="t('list.anyState')"
    />
    <span>{{ t('list.inDepartment') }}</span>
    <Select
      v-model="filters.department"
      v-bind="shared"
      filter
      class="wide"
      :options="departments"
      :placeholder="t('list.anyDepartment')"
      :aria-label="t('list.department')"
    />
    <span>{{ t('list.inGroup') }}</span>
    <Select
      v-model="filters.group"
      v-bind="shared"
      filter
      :options="groups"
      :placeholder="t('list.anyGroup')"
      :aria-label="t('list.groups')"
    />
    <span>{{ t('list.ready') }}</span>
    <Select
      v-model="lacking"
      v-bind="shared"
      class="wide"
      :options="readiness"
      :placeholder="t('list.anyReadiness')"
      :aria-label="t('list.readiness')"
    />
    <span>{{ t('list.ending') }}</span>
    <Select
      v-model="filters.ending_within_days"
      v-bind="shared"
      :options="endings"
      :placeholder="t('list.anyTime')"
      :aria-label="t('list.expiry')"
    />
    <template v-if="isMoreShown">
      <span>{{ t('list.ofCompany') }}</span>
      <Select
        v-model="filters.company"
        v-bind="shared"
        filter
        class="wide"
        :options="companies"
        :placeholder="t('list.anyCompany')"
        :aria-label="t('list.anyCompany')"
      />
      <span>{{ t('list.ofKind') }}</span>
      <Select
        v-model="filters.kind"
        v-bind="shared"
        :options="kinds"
        :placeholder="t('list.anyKind')"
        :aria-label="t('list.anyKind')"
      />
      <span>{{ t('list.letIn') }}</span>
      <Select
        v-model="filters.by_card_alone"
        v-bind="shared"
        :options="[{ value: true, word: t('cardAlone.is') }]"
        :placeholder="t('list.letInAnyhow')"
        :aria-label="t('list.letIn')"
      />
      <template v-if="ownFields.length">
        <span>{{ t('list.withOwn') }}</span>
        <Select
          v-model="filters.custom_field"
          v-bind="shared"
          class="wide"
          :options="ownFields"
          :placeholder="t('list.anyOwn')"
          :aria-label="t('list.anyOwn')"
        />
        <template v-if="own">
          <span>{{ t('list.ownIs') }}</span>
          <Select
            v-if="ownChoices.length"
            v-model="filters.custom_value"
            v-bind="shared"
            :options="ownChoices"
            :placeholder="t('list.ownNone')"
            :aria-label="labelOf(own.labels)"
          />
          <InputText
            v-else
            v-model="filters.custom_value"
            size="small"
            class="text"
            :placeholder="t('list.ownNone')"
            :aria-label="labelOf(own.labels)"
          />
        </template>
      </template>
    </template>
    <Button
      v-else
      size="small"
      severity="secondary"
      variant="text"
      :label="t('list.andMore')"
      @click="isUnfolded = true"
    />
    <Button v-if="isAnySet" size="small" variant="text" :label="t('list.clear')" @click="emit('clear')" />
  </div>
</template>

<style scoped>
.sentence {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}
.text {
  width: 140px;
}
.wide {
  max-width: 190px;
}
</style>
