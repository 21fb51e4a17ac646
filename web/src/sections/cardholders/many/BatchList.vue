<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { History } from '@lucide/vue'
import Button from 'primevue/button'
import Popover from 'primevue/popover'
import ProgressBar from 'primevue/progressbar'
import { computed, ref, shallowRef, watch } from 'vue'

import { client, type Problem, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { endWords, whenWords } from '@/kit/time/clock'
import { useSession } from '@/kit/state/session'
import { problemsIn } from '@/kit/state/problems'
import { t, wordsFor } from '@/words'

import { type Batch, batches, takeBack } from './batches'

/** Acts on many: those at work with how far they have come, and those done, to be taken back. */
const queries = useQueryClient()
const session = useSession()
const { data } = useQuery(batches)
const atWork = computed(() => data.value?.filter((one) => one.state === 'at_work') ?? [])
watch(
  () => data.value?.map((one) => one.done).join(),
  () => void queries.invalidateQueries({ queryKey: keyOf('cardholders') }),
)

const popover = ref<InstanceType<typeof Popover>>()
const refused = shallowRef<Problem[]>([])
async function act(asked: Promise<unknown>) {
  refused.value = []
  try {
    await asked
  } catch (error) {
    refused.value = problemsIn(error)
  }
  await queries.invalidateQueries({ queryKey: keyOf('batches') })
}
const back = (id: number) => act(takeBack(id))
const stop = (id: number) =>
  act(unwrap(client.DELETE('/api/bulk-changes/{id}/', { params: { path: { id } } })))

const percent = (batch: Batch) => Math.round((100 * batch.done) / Math.max(1, batch.total))
const value = (batch: Batch) => {
  if (batch.act === 'standing') return t(`standings.${batch.value as 'active'}`)
  if (batch.act === 'expiry') return batch.value ? endWords(batch.value) : t('common.noEnd')
  return batch.value_name || t('common.none')
}
</script>

<template>
  <Button size="small" severity="secondary" variant="text" @click="popover?.toggle($event)">
    <History :size="14" aria-hidden="true" /> {{ t('batches.title') }}
  </Button>
  <div v-for="one in atWork.slice(0, 1)" :key="one.id" class="working" role="status">
    <ProgressBar
      :value="percent(one)"
      :show-value="false"
      :style="{ height: '6px' }"
      :aria-label="t('batches.progress', { done: one.done, total: one.total })"
    />
    <span class="quiet">
      {{
        t('batches.progress', {
          done: one.done,
          total: one.total,
        })
      }}
    </span>
  </div>
  <Popover ref="popover" :aria-label="t('batches.title')">
    <p v-if="data && !data.length" class="quiet none">{{ t('batches.none') }}</p>
    <p v-for="problem in refused" :key="problem.code" class="denied">{{ wordsFor(problem) }}</p>
    <ul class="batches">
      <li v-for="one in data" :key="one.id">
        <div class="what">
          <b v-if="one.act === 'undo'">
            {{ t('batches.tookBack', { act: t(`batches.acts.${one.undone_act as 'kind'}`) }) }}
          </b>
          <b v-else>{{ t(`batches.acts.${one.act}`) }}: {{ value(one) }}</b>
          <span class="quiet">{{ one.operator_name }}, {{ whenWords(one.at) }}</span>
          <span>
            {{
              t('batches.outcome', {
                changed: one.changed,
                total: one.total,
              })
            }}
            <template v-if="one.state === 'stopped'">{{ t('batches.stopped') }}</template>
          </span>
          <ProgressBar
            v-if="one.state === 'at_work'"
            :value="percent(one)"
            :show-value="false"
            :style="{ height: '6px' }"
            :aria-label="t('batches.progress', { done: one.done, total: one.total })"
          />
        </div>
        <template v-if="session.may('edit')">
          <Button
            v-if="one.state === 'at_work'"
            size="small"
            severity="secondary"
            :label="t('batches.stop')"
            @click="stop(one.id)"
          />
          <Button
            v-else-if="one.can_be_undone"
            size="small"
            severity="secondary"
            :label="t('batches.back')"
            @click="back(one.id)"
          />
        </template>
      </li>
    </ul>
  </Popover>
</template>

<style scoped>
.batches {
  width: 380px;
  max-height: 60vh;
  overflow: auto;
}
li {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 6px 0;
  border-bottom: 1px solid var(--p-cadrin-hairline);
}
.what {
  flex: 1;
  min-width: 0;
}
.what span,
.what b {
  display: block;
}
.working {
  display: flex;
  align-items: center;
  gap: 8px;
  min-width: 180px;
}
.working > :first-child {
  flex: 1;
}
.working span {
  font-size: 12px;
  white-space: nowrap;
}
.none {
  width: 300px;
}
</style>
