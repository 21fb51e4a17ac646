<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Select from 'primevue/select'
import { computed } from 'vue'

import { house } from '@/api/queries'
import InstantField from '@/kit/time/InstantField.vue'
import PersonField from '@/kit/controls/PersonField.vue'
import { everyReason, t } from '@/words'

import type { ReadsAsked } from './reads-asked'

/** What is asked of the record of reads. */
const props = defineProps<{ asked: ReadsAsked }>()
const { door, cardholder, department, reason, since, until } = props.asked
const { data: choices } = useQuery(house)
const isNarrowed = computed(() => Object.values(props.asked).some((one) => one.value !== null))
const clear = () => Object.values(props.asked).forEach((one) => (one.value = null))
</script>

<template>
  <div class="filters" role="search" :aria-label="t('activity.title')">
    <PersonField v-model="cardholder" class="person" :label="t('activity.person')" />
    <Select
      v-model="door"
      :options="choices?.doors ?? []"
      option-label="name"
      option-value="id"
      size="small"
      filter
      show-clear
      :placeholder="t('activity.anyDoor')"
      :aria-label="t('activity.door')"
    />
    <Select
      v-model="department"
      :options="choices?.departments ?? []"
      option-label="name"
      option-value="id"
      size="small"
      filter
      show-clear
      :placeholder="t('activity.anyDepartment')"
      :aria-label="t('file.department')"
    />
    <Select
      v-model="reason"
      :options="everyReason()"
      option-label="word"
      option-value="value"
      size="small"
      filter
      show-clear
      :placeholder="t('activity.anyReason')"
      :aria-label="t('activity.reason')"
    />
    <InstantField v-model="since" :label="t('activity.since')" :empty="t('activity.anyTime')" />
    <InstantField v-model="until" is-end :label="t('activity.until')" :empty="t('activity.anyTime')" />
    <button v-if="isNarrowed" type="button" class="link clear" @click="clear">
      {{ t('activity.clear') }}
    </button>
  </div>
</template>

<style scoped>
.filters {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 8px;
  padding: 0 20px 10px;
}
.filters :deep(.p-select) {
  width: 150px;
}
.person {
  width: 170px;
}
.clear {
  padding-bottom: 6px;
}
</style>
