<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, reactive, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useAct } from '@/kit/state/act'
import { whenWords } from '@/kit/time/clock'
import InstantField from '@/kit/time/InstantField.vue'
import { useSession } from '@/kit/state/session'
import StateMark from '@/kit/controls/StateMark.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import { doorsNow, markOf } from './doors'
import { useActAtDoor } from './act-at-door'

/** How a door stands now, who went through last, and what an operator can do at it. */
const props = defineProps<{ doorId: number }>()
const queries = useQueryClient()
const mayAct = useSession().may('doors')
const { data } = useQuery(doorsNow)
const door = computed(() => data.value?.find((one) => one.id === props.doorId))

const ordering = ref<'open' | 'shut' | null>(null)
const draft = reactive({ reason: '', until: null as string | null })
const { act, isBusy, at, elsewhere } = useAct()
const { actAtDoor, outcome } = useActAtDoor(() => props.doorId)
const path = () => ({ params: { path: { id: props.doorId } } })
const looked = () => queries.invalidateQueries({ queryKey: keyOf('doors') })

async function order() {
  const kind = ordering.value
  if (!kind) return
  const body = { ordered: kind, ...draft }
  const isDone = await act(() =>
    unwrap(client.PUT('/api/doors/{id}/order/', { ...path(), body })).then(() => true),
  )
  if (!isDone) return
  Object.assign(draft, { reason: '', until: null })
  ordering.value = null
  await looked()
}
async function end() {
  await act(() => unwrap(client.DELETE('/api/doors/{id}/order/', path())))
  await looked()
}
</script>

<template>
  <section v-if="door">
    <div class="row state">
      <StateMark :shape="markOf(door).shape" :word="markOf(door).word" />
      <span class="quiet">
        {{
          door.last
            ? t('doing.lastThrough', { name: door.last.name, when: whenWords(door.last.at) })
            : t('doing.nobodyThrough')
        }}
      </span>
    </div>
    <p v-if="door.order" class="order">
      {{
        t(`doing.order.${door.order.kind}`, {
          name: door.order.ordered_by,
          when: whenWords(door.order.at),
          reason: door.order.reason,
        })
      }}<template v-if="door.order.until"
        >, {{ t('doing.orderUntil', { when: whenWords(door.order.until) }) }}</template
      >.
      <template v-if="door.order.release">{{ t('doing.ofRelease', { name: door.order.release }) }}</template>
    </p>
    <template v-if="mayAct">
      <div class="row">
        <Button size="small" :label="t('doing.unlockOnce')" @click="actAtDoor('release')" />
        <Button
          v-for="kind in ['open', 'shut'] as const"
          :key="kind"
          size="small"
          severity="secondary"
          :aria-expanded="ordering === kind"
          :label="t(kind === 'open' ? 'doing.keepOpen' : 'doing.keepShut')"
          @click="ordering = ordering === kind ? null : kind"
        />
        <Button
          v-if="door.order && !door.order.release"
          size="small"
          severity="secondary"
          :label="t('doing.end')"
          :disabled="isBusy"
          @click="end"
        />
        <span role="status">{{ outcome }}</span>
        <span class="denied" role="alert">{{ elsewhere }}</span>
      </div>
      <form v-if="ordering" class="ordering stacks-late" @submit.prevent="order">
        <TextField v-model="draft.reason" :label="t('doing.reason')" :problems="at('reason')" />
        <InstantField
          v-model="draft.until"
          :label="t('doing.until')"
          :empty="t('doing.untilEnded')"
          :problems="at('until')"
        />
        <Button
          type="submit"
          size="small"
          :label="t(ordering === 'open' ? 'doing.keepOpen' : 'doing.keepShut')"
          :loading="isBusy"
        />
      </form>
    </template>
  </section>
</template>

<style scoped>
section {
  display: flex;
  flex-direction: column;
  gap: 8px;
  margin: 10px 0;
}
.state {
  gap: 16px;
}
.order {
  padding: 5px 8px;
  background: var(--p-cadrin-amber-paper);
}
.ordering {
  display: grid;
  grid-template-columns: minmax(180px, 320px) auto auto 1fr;
  align-items: end;
  gap: 10px;
}
</style>
