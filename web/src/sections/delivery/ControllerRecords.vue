<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Column from 'primevue/column'
import DataTable from 'primevue/datatable'
import { useToast } from 'primevue/usetoast'
import { computed } from 'vue'

import { client, type Controller, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import { controllerRecords } from '@/api/queries'
import { whenWords } from '@/kit/clock'
import { useSession } from '@/kit/session'
import { i18n, refusalWords, t } from '@/words'

import ControllerClock from './ControllerClock.vue'
import ControllerSending from './ControllerSending.vue'

type RecordRow = components['schemas']['RecordShape']

const props = defineProps<{ controller: Controller }>()
const session = useSession()
const toast = useToast()
const queries = useQueryClient()
const { data, isPending } = useQuery(controllerRecords(() => props.controller.id))

const check = useMutation({
  mutationFn: () =>
    unwrap(client.POST('/api/controllers/{id}/check/', { params: { path: { id: props.controller.id } } })),
  onSuccess: async () => {
    toast.add({
      severity: 'info',
      summary: t('delivery.checked', { name: props.controller.name }),
      life: 4000,
    })
    await queries.invalidateQueries({ queryKey: ['controllers'] })
  },
})
const isEmpty = computed(() => data.value?.length === 0)

function what(row: RecordRow): string {
  if (row.is_to_be_removed) return t('delivery.takeAway')
  return row.is_there ? t('delivery.replace') : t('delivery.put')
}
function state(row: RecordRow): string {
  const told = t(`deliveryStates.${row.state}`, { why: refusalWords(row.refusal) })
  return row.still_works ? `${told}; ${t('delivery.stillWorksThere')}` : told
}

/** Why it did not answer, as the worker noted it: a code, and for some a figure. */
function failureWords(failure: string): string {
  const [code, figure] = failure.split(':')
  const key = `failures.${code}`
  return i18n.global.te(key) ? i18n.global.t(key, { figure }) : failure
}
</script>

<template>
  <div class="records">
    <div class="row">
      <p v-if="controller.failed_at" class="denied">
        {{ t('delivery.why', { why: failureWords(controller.failure) }) }}
      </p>
      <p v-else-if="isEmpty" class="quiet">{{ t('delivery.allHeld') }}</p>
      <Button
        v-if="session.may('deliver') && !controller.is_desk"
        class="push check"
        size="small"
        severity="secondary"
        :label="t('delivery.check')"
        :loading="check.isPending.value"
        @click="check.mutate()"
      />
    </div>
    <p class="quiet">{{ controller.doors.join(', ') }}</p>
    <ControllerClock v-if="session.may('deliver')" :controller="controller" />
    <ControllerSending v-if="session.may('deliver') && !controller.is_desk" :controller="controller" />
    <template v-if="controller.incidents.length">
      <h3>{{ t('delivery.happened') }}</h3>
      <ul class="incidents">
        <li v-for="one in controller.incidents" :key="`${one.kind} ${one.detail} ${one.first_at}`">
          <span class="denied">{{ t(`incidents.${one.kind}`, { detail: one.detail }) }}</span>
          <span class="quiet">
            {{
              one.count > 1
                ? t('delivery.lately', { when: whenWords(one.last_at), count: one.count })
                : t('delivery.once', { when: whenWords(one.last_at) })
            }}
          </span>
        </li>
      </ul>
    </template>
    <DataTable
      v-if="!isEmpty"
      :value="data ?? []"
      :loading="isPending"
      data-key="id"
      size="small"
      class="table"
    >
      <Column :header="t('delivery.record')">
        <template #body="{ data: row }: { data: RecordRow }">
          <span class="quiet">{{ t(`recordKinds.${row.kind}`) }}</span> {{ row.name }}
        </template>
      </Column>
      <Column :header="t('delivery.what')">
        <template #body="{ data: row }: { data: RecordRow }">{{ what(row) }}</template>
      </Column>
      <Column :header="t('delivery.state')">
        <template #body="{ data: row }: { data: RecordRow }">{{ state(row) }}</template>
      </Column>
      <Column :header="t('delivery.since')">
        <template #body="{ data: row }: { data: RecordRow }">{{ whenWords(row.changed_at) }}</template>
      </Column>
    </DataTable>
  </div>
</template>

<style scoped>
.records {
  padding: 4px 6px 14px 20px;
}
h3 {
  margin-top: 8px;
  font-size: 13px;
}
.incidents li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  padding: 2px 0;
  overflow-wrap: anywhere;
}
.check {
  flex: none;
}
.table {
  margin-top: 8px;
}
.table :deep(tbody tr) {
  height: 30px;
}
</style>
