<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import type { House } from '@/api/client'
import { useKept } from '@/kit/state/kept'
import { useRow } from '@/kit/state/row'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'
import BatchDialog from './BatchDialog.vue'
import BatchOutcome from './BatchOutcome.vue'
import { type Act, newOrder, type Order } from './orders'
import type { Selection } from './selection'

/** What can be done with everybody who is selected. */
const props = defineProps<{
  selection: Selection
  count: number
  countWords: string
  isAll: boolean
  total: number
  totalWords: string
  choices: House
}>()
const emit = defineEmits<{ selectAll: []; clear: []; export: [] }>()

const session = useSession()
const ACTS: Act[] = ['department', 'standing', 'expiry', 'add_group', 'remove_group', 'company', 'kind']
const acts = computed(() =>
  ACTS.filter((act) => session.may(act.endsWith('group') ? 'access' : 'edit')).map((value) => ({
    value,
    word: t(`batches.acts.${value}`),
  })),
)
/** What is being chosen, kept through leaving and reload as long as the same people are selected. */
const kept = useKept<{ whom: string; orders: Order[] }>('many', () => ({ whom: '', orders: [] }))
const whom = computed(() => JSON.stringify(props.selection))
if (kept.value?.whom !== whom.value) kept.value = null
const isTakenUp = ref(kept.value !== null)
function choose(act: Act) {
  isTakenUp.value = false
  kept.value = { whom: whom.value, orders: [newOrder(act)] }
}
/** What was begun last, several acts at once: told here until the next, with the way back. */
const last = ref<number[]>([])
function begun(batches: number[]) {
  last.value = batches
  if (!kept.value?.orders.length) kept.value = null
}
const router = useRouter()
const row = useRow()
/** Give everybody who is selected a card, or a PIN. */
function lineUp(part: 'row' | 'pins') {
  row.chosen = props.selection.ids ?? []
  void router.push({ name: 'cards', params: { part } })
}
</script>

<template>
  <div class="bar" role="region" :aria-label="t('batches.selected', { count: countWords })">
    <b>{{ t('batches.selected', { count: countWords }) }}</b>
    <Button
      v-if="!isAll && total > count"
      size="small"
      variant="text"
      :label="t('batches.selectAll', { count: totalWords })"
      @click="emit('selectAll')"
    />
    <Button size="small" variant="text" :label="t('batches.clear')" @click="emit('clear')" />
    <Select
      v-if="acts.length"
      :key="String(kept === null)"
      :model-value="null"
      class="push"
      :options="acts"
      option-label="word"
      option-value="value"
      size="small"
      :placeholder="t('batches.choose')"
      :aria-label="t('batches.choose')"
      @update:model-value="choose"
    />
    <Button
      v-if="!isAll && session.may('issue') && session.may('edit')"
      size="small"
      severity="secondary"
      :label="t('cards.partsOf.row')"
      @click="lineUp('row')"
    />
    <Button
      v-if="!isAll && session.may('issue') && session.may('edit')"
      size="small"
      severity="secondary"
      :label="t('pins.lists')"
      @click="lineUp('pins')"
    />
    <Button
      v-if="session.may('export')"
      size="small"
      severity="secondary"
      :label="t('batches.export')"
      @click="emit('export')"
    />
    <BatchOutcome v-if="last.length" :batches="last" />
    <BatchDialog
      v-if="kept"
      v-model="kept.orders"
      :acts="acts"
      :selection="selection"
      :choices="choices"
      :is-taken-up="isTakenUp"
      @begun="begun"
      @cancel="kept = null"
    />
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 8px;
  min-height: 40px;
  padding: 4px 20px;
  background: var(--p-cadrin-teal-paper);
  border-block: 1px solid var(--p-cadrin-hairline);
}
</style>
