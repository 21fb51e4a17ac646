<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed } from 'vue'
import { I18nT } from 'vue-i18n'

import type { Gap, House, State } from '@/api/client'
import { flagInAddress } from '@/kit/state/addressed'
import { t } from '@/words'

import { asFilter, type Filters, filtersIn } from './filters'
import MoreFilters from './MoreFilters.vue'

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
const isUnfolded = flagInAddress('filters')
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
</script>

<template>
  <div class="sentence">
    <I18nT keypath="list.sentence" tag="div" scope="global" class="sentence">
      <template #text>
        <InputText
          v-model="filters.text"
          size="small"
          class="text"
          :placeholder="t('list.text')"
          :aria-label="t('list.text')"
        />
      </template>
      <template #state>
        <Select
          v-model="filters.state"
          v-bind="asFilter"
          :options="states"
          :placeholder="t('list.anyState')"
          :aria-label="t('list.anyState')"
        />
      </template>
      <template #department>
        <Select
          v-model="filters.department"
          v-bind="asFilter"
          filter
          class="wide"
          :options="departments"
          :placeholder="t('list.anyDepartment')"
          :aria-label="t('list.department')"
        />
      </template>
      <template #group>
        <Select
          v-model="filters.group"
          v-bind="asFilter"
          filter
          :options="groups"
          :placeholder="t('list.anyGroup')"
          :aria-label="t('list.groups')"
        />
      </template>
      <template #readiness>
        <Select
          v-model="lacking"
          v-bind="asFilter"
          class="wide"
          :options="readiness"
          :placeholder="t('list.anyReadiness')"
          :aria-label="t('list.readiness')"
        />
      </template>
      <template #expiry>
        <Select
          v-model="filters.ending_within_days"
          v-bind="asFilter"
          :options="endings"
          :placeholder="t('list.anyTime')"
          :aria-label="t('list.expiry')"
        />
      </template>
    </I18nT>
    <MoreFilters v-if="isMoreShown" v-model="filters" :choices="choices" />
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
.text {
  width: 140px;
}
.wide {
  max-width: 190px;
}
</style>
