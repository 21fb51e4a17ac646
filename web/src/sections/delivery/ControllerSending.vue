<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed } from 'vue'

import { client, type Controller, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { schedules } from '@/api/queries'
import { useAct } from '@/kit/state/act'
import SelectField from '@/kit/controls/SelectField.vue'
import { t } from '@/words'

/** When what people gain is sent to a controller: at once, in the hours of a schedule, or not now. */
const props = defineProps<{ controller: Controller }>()
const queries = useQueryClient()
const { data: all } = useQuery(schedules)
const { act, isBusy, elsewhere } = useAct()

async function set(is_paused: boolean, schedule: number | null) {
  const params = { path: { id: props.controller.id } }
  const body = { is_paused, schedule }
  await act(() => unwrap(client.PUT('/api/controllers/{id}/sending/', { params, body })))
  await queries.invalidateQueries({ queryKey: keyOf('controllers') })
}
const schedule = computed({
  get: () => props.controller.sends_by,
  set: (id) => void set(props.controller.is_paused, id ?? null),
})
</script>

<template>
  <div class="sending">
    <SelectField
      v-model="schedule"
      :label="t('delivery.sendsBy')"
      :options="all ?? []"
      option-label="name"
      option-value="id"
      :placeholder="t('delivery.atOnce')"
      show-clear
      filter
    />
    <Button
      size="small"
      severity="secondary"
      :label="t(controller.is_paused ? 'delivery.goOn' : 'delivery.pause')"
      :loading="isBusy"
      @click="set(!controller.is_paused, controller.sends_by)"
    />
    <p v-if="controller.is_held_back" class="quiet">{{ t('delivery.heldBack') }}</p>
    <p class="denied">{{ elsewhere }}</p>
  </div>
</template>

<style scoped>
.sending {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 10px;
  margin: 6px 0;
}
.sending > :first-child {
  width: 240px;
}
.sending p {
  padding-bottom: 5px;
}
</style>
