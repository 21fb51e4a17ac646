<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { useToast } from 'primevue/usetoast'
import { computed } from 'vue'

import { client, type Controller, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { controllerRecords } from '@/api/queries'
import { whenWords } from '@/kit/time/clock'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import ControllerClock from './ControllerClock.vue'
import ControllerSending from './ControllerSending.vue'
import { failureWords } from './failure'
import RecordsTable from './RecordsTable.vue'

/** As many as the server gives. */
const MOST_SHOWN = 200

const props = defineProps<{ controller: Controller }>()
const session = useSession()
const toast = useToast()
const queries = useQueryClient()
const { data } = useQuery(controllerRecords(() => props.controller.id))

const check = useMutation({
  mutationFn: () =>
    unwrap(client.POST('/api/controllers/{id}/check/', { params: { path: { id: props.controller.id } } })),
  onSuccess: async () => {
    toast.add({
      severity: 'info',
      summary: t('delivery.checked', { name: props.controller.name }),
      life: 4000,
    })
    await queries.invalidateQueries({ queryKey: keyOf('controllers') })
  },
})
const isEmpty = computed(() => data.value?.length === 0)
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
    <RecordsTable :controller="controller.id" :name="controller.name" :most="MOST_SHOWN" />
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
</style>
