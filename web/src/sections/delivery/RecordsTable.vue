<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Column from 'primevue/column'
import DataTable from 'primevue/datatable'
import { computed } from 'vue'
import { RouterLink } from 'vue-router'

import { controllerRecords } from '@/api/queries'
import type { components } from '@/api/schema'
import { whenWords } from '@/kit/time/clock'
import TableExport from '@/kit/controls/TableExport.vue'
import { refusalWords, t } from '@/words'

type RecordRow = components['schemas']['RecordShape']

/** What a controller does not hold as it should, and why: what was taken from people first, then the oldest. */
const props = defineProps<{ controller: number; name: string; most: number }>()
const { data, isPending } = useQuery(controllerRecords(() => props.controller))
const rows = computed(() => data.value?.slice(0, props.most) ?? [])

function what(row: RecordRow): string {
  if (row.is_to_be_removed) return t('delivery.takeAway')
  return row.is_there ? t('delivery.replace') : t('delivery.put')
}
function state(row: RecordRow): string {
  const told = t(`deliveryStates.${row.state}`, { why: refusalWords(row.refusal) })
  return row.still_works ? `${told}; ${t('delivery.stillWorksThere')}` : told
}
const headings = [t('delivery.record'), t('delivery.what'), t('delivery.state'), t('delivery.since')]
const table = () =>
  (data.value ?? []).map((row) => [
    `${t(`recordKinds.${row.kind}`)} ${row.name}`,
    what(row),
    state(row),
    whenWords(row.changed_at),
  ])
</script>

<template>
  <TableExport v-if="rows.length" class="out" :name="name" :headings="headings" :rows="table" />
  <DataTable
    v-if="rows.length"
    :value="rows"
    :loading="isPending"
    data-key="id"
    size="small"
    class="table"
    table-style="table-layout: fixed"
  >
    <Column :header="t('delivery.record')" style="width: 34%">
      <template #body="{ data: row }: { data: RecordRow }">
        <span class="quiet">{{ t(`recordKinds.${row.kind}`) }}</span>{{ ' ' }}
        <RouterLink
          v-if="row.kind === 'cardholder' && row.name"
          :to="{ name: 'cardholder', params: { id: row.subject_id } }"
          >{{ row.name }}</RouterLink
        >
        <template v-else>{{ row.name }}</template>
      </template>
    </Column>
    <Column :header="t('delivery.what')" style="width: 18%">
      <template #body="{ data: row }: { data: RecordRow }">{{ what(row) }}</template>
    </Column>
    <Column :header="t('delivery.state')">
      <template #body="{ data: row }: { data: RecordRow }">{{ state(row) }}</template>
    </Column>
    <Column :header="t('delivery.since')" style="width: 18%">
      <template #body="{ data: row }: { data: RecordRow }">{{ whenWords(row.changed_at) }}</template>
    </Column>
  </DataTable>
</template>

<style scoped>
.out {
  float: right;
}
.table {
  margin-top: 8px;
}
.table :deep(tbody tr) {
  height: 30px;
}
</style>
