<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { X } from '@lucide/vue'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import Select from 'primevue/select'
import { computed, ref } from 'vue'

import { client, type House, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import TakenUp from '@/kit/controls/TakenUp.vue'
import { useAct } from '@/kit/state/act'
import { t } from '@/words'

import { type Act, batchesOf, isReady, newOrder, type Order } from './orders'
import OrderFields from './OrderFields.vue'
import type { Selection } from './selection'

/** One act or several on everybody who is selected, begun together. */
const props = defineProps<{
  selection: Selection
  choices: House
  acts: { value: Act; word: string }[]
  isTakenUp: boolean
}>()
const emit = defineEmits<{ begun: [batches: number[]]; cancel: [] }>()
const orders = defineModel<Order[]>({ required: true })
const queries = useQueryClient()

const changed = ref<number[]>([])
const most = computed(() => Math.max(0, ...orders.value.map((_, place) => changed.value[place] ?? 0)))
const canBegin = computed(() => most.value > 0 && orders.value.every(isReady))
/** What else can be done in the same go; somebody may be put into several groups. */
const others = computed(() =>
  props.acts.filter(
    ({ value }) => value.endsWith('group') || !orders.value.some((order) => order.act === value),
  ),
)
function drop(place: number) {
  orders.value.splice(place, 1)
  changed.value.splice(place, 1)
}

const { act, isBusy, problems } = useAct()
/** Begin one after another; what was begun leaves the dialogue, so that nothing is begun twice. */
async function begin() {
  const begun: number[] = []
  await act(async () => {
    for (let order = orders.value[0]; order; order = orders.value[0]) {
      for (const body of batchesOf(order, props.selection, props.choices))
        begun.push((await unwrap(client.POST('/api/bulk-changes/', { body }))).id)
      drop(0)
    }
  })
  await queries.invalidateQueries({ queryKey: keyOf('batches') })
  if (begun.length) emit('begun', begun)
}
</script>

<template>
  <Dialog
    visible
    modal
    :header="
      orders.length === 1 && orders[0]
        ? t(`batches.acts.${orders[0].act}`)
        : t('batches.several', orders.length)
    "
    :style="{ width: '520px' }"
    @update:visible="emit('cancel')"
  >
    <TakenUp v-if="isTakenUp" />
    <section
      v-for="(order, place) in orders"
      :key="`${place} ${order.act}`"
      class="order"
      :aria-label="t(`batches.acts.${order.act}`)"
    >
      <h3 v-if="orders.length > 1">
        {{ t(`batches.acts.${order.act}`) }}
        <button
          type="button"
          class="icon"
          :aria-label="t('batches.leaveOut', { act: t(`batches.acts.${order.act}`) })"
          @click="drop(place)"
        >
          <X :size="14" aria-hidden="true" />
        </button>
      </h3>
      <OrderFields
        v-model="orders[place]!"
        :changed="changed[place] ?? 0"
        :selection="selection"
        :choices="choices"
        :refused="place === 0 ? problems : []"
        @update:changed="changed[place] = $event"
      />
    </section>
    <Select
      :key="orders.length"
      :model-value="null"
      class="more"
      :options="others"
      option-label="word"
      option-value="value"
      size="small"
      :placeholder="t('batches.another')"
      :aria-label="t('batches.another')"
      @update:model-value="orders.push(newOrder($event))"
    />
    <p class="quiet">{{ t('batches.canBeTakenBack') }}</p>
    <template #footer>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('common.cancel')"
        @click="emit('cancel')"
      />
      <Button
        size="small"
        :label="t('batches.begin', { count: most })"
        :loading="isBusy"
        :disabled="!canBegin"
        @click="begin"
      />
    </template>
  </Dialog>
</template>

<style scoped>
.order + .order {
  margin-top: 12px;
  padding-top: 4px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.order h3 {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.more {
  margin-block: 12px 8px;
}
</style>
