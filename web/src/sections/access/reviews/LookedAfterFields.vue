<script setup lang="ts">
import type { House, Problem } from '@/api/client'
import NumberField from '@/kit/controls/NumberField.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import { t } from '@/words'

import { type Looked, reviewAddress } from './reviews'

/** Who looks through the people of a group or a door, and how often, with the way there. */
defineProps<{
  operators: House['operators']
  at: (field: string) => Problem[]
  /** What is looked through, where it is saved already. */
  looked?: Pick<Looked, 'kind' | 'id'>
  disabled?: boolean
}>()
const owner = defineModel<number | null | undefined>('owner', { required: true })
const days = defineModel<number | null>('days', { required: true })
</script>

<template>
  <SelectField
    v-model="owner"
    :label="t('access.owner')"
    :options="operators"
    option-label="name"
    option-value="id"
    :placeholder="t('access.noOwner')"
    filter
    show-clear
    :disabled="disabled"
    :problems="at('owner_id')"
  />
  <NumberField
    v-model="days"
    :label="t('access.reviewDays')"
    :min="1"
    :max="3650"
    :placeholder="t('doing.never')"
    :problems="at('review_days')"
  />
  <RouterLink
    v-if="looked && days"
    :to="{ name: 'access', params: { part: 'reviews', id: reviewAddress(looked) } }"
    >{{ t('reviews.open') }}</RouterLink
  >
</template>
