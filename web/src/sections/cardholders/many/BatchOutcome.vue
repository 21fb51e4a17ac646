<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { keyOf } from '@/api/keys'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { useAct } from '@/kit/state/act'
import { t } from '@/words'

import { batches as known, takeBack } from './batches'

/** What came of the acts that were begun together, and the way back: the last of them first. */
const props = defineProps<{ batches: number[] }>()

const queries = useQueryClient()
const { data } = useQuery(known)
const { act, isBusy, elsewhere } = useAct()
const undone = ref(false)
const begun = computed(() => (data.value ?? []).filter((one) => props.batches.includes(one.id)))
const isAtWork = computed(() => begun.value.some((one) => one.state === 'at_work'))
const changed = computed(() => Math.max(0, ...begun.value.map((one) => one.changed)))
const total = computed(() => Math.max(0, ...begun.value.map((one) => one.total)))
async function back() {
  await act(async () => {
    for (const { id, can_be_undone } of begun.value) if (can_be_undone) await takeBack(id)
    undone.value = true
  })
  await queries.invalidateQueries({ queryKey: keyOf('batches') })
}
</script>

<template>
  <p v-if="begun.length" class="outcome" role="status">
    <template v-if="undone">{{ t('batches.undone') }}</template>
    <template v-else-if="isAtWork">{{ t('common.loading') }}</template>
    <template v-else>
      {{ t('batches.outcome', { changed: changed, total: total }) }}
      <Button
        v-if="begun.some((one) => one.can_be_undone)"
        size="small"
        variant="text"
        :label="t('batches.back')"
        :loading="isBusy"
        @click="back"
      />
    </template>
    <span v-if="elsewhere" class="denied">{{ elsewhere }}</span>
  </p>
</template>

<style scoped>
.outcome {
  flex-basis: 100%;
}
</style>
