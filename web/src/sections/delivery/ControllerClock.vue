<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import { useQueryClient } from '@tanstack/vue-query'
import { useId } from 'vue'

import { client, type Controller, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useAct } from '@/kit/state/act'
import { t } from '@/words'

/** The clock of a controller: set right now, or whenever it is off. */
const props = defineProps<{ controller: Controller }>()
const { act, isBusy } = useAct()
const queries = useQueryClient()
const id = useId()

const path = () => ({ params: { path: { id: props.controller.id } } })
const again = () => queries.invalidateQueries({ queryKey: keyOf('controllers') })
const set = () =>
  act(() => unwrap(client.POST('/api/controllers/{id}/clock/', path())).then(again), t('delivery.clockSet'))
const keep = (is_kept: boolean) =>
  act(() => unwrap(client.PUT('/api/controllers/{id}/clock/', { ...path(), body: { is_kept } })).then(again))
</script>

<template>
  <div class="row clock">
    <Button
      v-if="controller.clock_off_seconds"
      size="small"
      severity="secondary"
      :label="t('delivery.setClock')"
      :loading="isBusy"
      @click="set"
    />
    <Checkbox
      :model-value="controller.is_clock_kept"
      binary
      size="small"
      :input-id="id"
      @update:model-value="keep"
    />
    <label :for="id">{{ t('delivery.keepClock') }}</label>
  </div>
</template>

<style scoped>
.clock {
  margin: 6px 0;
  font-size: 13px;
}
</style>
