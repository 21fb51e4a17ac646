<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { reactive, ref } from 'vue'

import { house } from '@/api/queries'
import { useAct } from '@/kit/state/act'
import { type Became, useRow } from '@/kit/state/row'
import SelectField from '@/kit/controls/SelectField.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

/** Whom a row is of: those chosen in the list, a department, or a span of numbers, with a card or without. */
const row = useRow()
const { data: choices } = useQuery(house)
const { act, isBusy, at, elsewhere } = useAct()
const asked = reactive({ department: null as number | null, first_number: '', last_number: '' })
/** People who have no card yet, or what becomes of the card that they have. */
const became = ref<Became | 'none'>('none')
const BECAME = ['none', 'returned', 'damaged', 'lost', 'stolen'] as const
const options = BECAME.map((value) => ({ value, word: t(`row.old.${value}`) }))
const isEmpty = ref(false)

async function begin() {
  isEmpty.value = false
  await act(() =>
    row.lineUp({
      ...asked,
      people: row.chosen.length ? row.chosen : null,
      became: became.value === 'none' ? null : became.value,
    }),
  )
  isEmpty.value = !row.people.length && !elsewhere.value
}
</script>

<template>
  <form class="choice" @submit.prevent="begin">
    <p v-if="row.chosen.length" class="chosen">
      {{ t('row.selected', row.chosen.length) }}
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('batches.clear')"
        @click="row.chosen = []"
      />
    </p>
    <div v-else class="fields">
      <SelectField
        v-model="asked.department"
        class="department"
        filter
        show-clear
        :label="t('row.department')"
        :options="choices?.departments ?? []"
        option-label="name"
        option-value="id"
        :placeholder="t('list.anyDepartment')"
      />
      <TextField v-model="asked.first_number" is-mono :label="t('row.from')" :problems="at('first_number')" />
      <TextField v-model="asked.last_number" is-mono :label="t('row.to')" :problems="at('last_number')" />
    </div>
    <SelectField
      v-model="became"
      class="department"
      :label="t('row.have')"
      :options="options"
      option-label="word"
      option-value="value"
    />
    <div class="row">
      <Button type="submit" size="small" :label="t('row.begin')" :loading="isBusy" />
      <span v-if="isEmpty" role="status">{{ t(became === 'none' ? 'row.nobody' : 'row.nobodyHas') }}</span>
      <span class="denied">{{ elsewhere }}</span>
    </div>
  </form>
</template>

<style scoped>
.choice {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
.department {
  width: 220px;
}
</style>
