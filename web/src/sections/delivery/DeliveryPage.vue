<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { useRouter } from 'vue-router'

import { numberInAddress } from '@/kit/state/addressed'
import { client, type Controller, unwrap } from '@/api/client'
import { controllers, waiting } from '@/api/queries'
import { useAct } from '@/kit/state/act'
import { momentWords, whenWords } from '@/kit/time/clock'
import StateMark from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

import ControllerRecords from './ControllerRecords.vue'
import { failureWords } from './failure'
import RecordsTable from './RecordsTable.vue'

const MOST_AT_ONCE = 5

const { data, isError } = useQuery(controllers)
const { data: counts } = useQuery(waiting)
const router = useRouter()
const { act } = useAct()
const chosen = numberInAddress('controller')

const allOf = (one: Controller) => Object.values(one.counts).reduce((sum, count) => sum + count, 0)
const amiss = (one: Controller) => allOf(one) - one.counts.held
function line(one: Controller) {
  if (one.failed_at)
    return { shape: 'cross' as const, word: t('delivery.silent', { when: whenWords(one.failed_at) }) }
  if (one.is_late)
    return {
      shape: 'cross' as const,
      word: one.answered_at
        ? t('delivery.late', { when: whenWords(one.answered_at) })
        : t('delivery.lateNever'),
    }
  if (!one.answered_at) return { shape: 'dash' as const, word: t('delivery.never') }
  return { shape: 'disc' as const, word: t('delivery.answers', { when: momentWords(one.answered_at) }) }
}
async function takeOver(controller: number) {
  const taken = await act(() =>
    unwrap(client.POST('/api/intakes/from-controller/', { body: { controller } })),
  )
  if (taken) await router.push({ name: 'intake', params: { id: taken.id } })
}
const minutesOff = (one: Controller) => Math.round(one.clock_off_seconds / 60)
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1>{{ t('delivery.title') }}</h1>
    </div>
    <p v-if="counts?.worker_stopped_at" class="denied stopped" role="alert">
      {{ t('delivery.worker', { when: whenWords(counts.worker_stopped_at) }) }}
    </p>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <p v-else-if="!data" class="quiet">{{ t('common.loading') }}</p>
    <ul v-else class="controllers">
      <li v-for="one in data" :key="one.id" class="controller">
        <button
          type="button"
          class="line stacks"
          :aria-expanded="chosen === one.id"
          @click="chosen = chosen === one.id ? null : one.id"
        >
          <b class="one-line">{{ one.name }}</b>
          <StateMark :shape="line(one).shape" :word="line(one).word" />
          <span v-if="one.is_desk" class="quiet wide">{{ t('delivery.desk') }}</span>
          <template v-else>
            <meter
              class="meter"
              :value="one.counts.held"
              :max="allOf(one) || 1"
              :aria-label="t('delivery.of', { held: one.counts.held, all: allOf(one) })"
            />
            <span>
              {{ t('delivery.held') }}
              <span class="mono">{{ t('delivery.of', { held: one.counts.held, all: allOf(one) }) }}</span>
              <span v-if="one.counts.sent"> · {{ t('delivery.sending', one.counts.sent) }}</span>
              <span v-if="amiss(one)" class="denied"> · {{ t('delivery.notHeld') }} {{ amiss(one) }}</span>
            </span>
          </template>
          <span class="quiet push row">
            <span v-if="minutesOff(one)" class="denied">{{
              t('delivery.clock', { minutes: minutesOff(one) })
            }}</span>
            <span v-if="!one.is_desk">{{ t('delivery.doors', one.doors.length) }}</span>
          </span>
        </button>
        <p v-if="chosen !== one.id && one.is_held_back" class="quiet still">{{ t('delivery.heldBack') }}</p>
        <p v-if="chosen !== one.id && one.failed_at" class="denied still">
          {{ t('delivery.why', { why: failureWords(one.failure) }) }}
        </p>
        <p v-if="one.still_works" class="denied still">{{ t('delivery.stillWorks', one.still_works) }}</p>
        <p v-if="one.left_out" class="denied still">{{ t('delivery.leftOut', one.left_out) }}</p>
        <p v-if="one.found_people" class="still row">
          {{ t('delivery.foundPeople', one.found_people) }}
          <Button
            size="small"
            severity="secondary"
            :label="t('delivery.takeOver')"
            @click="takeOver(one.id)"
          />
        </p>
        <p v-if="one.schedules_left_out.length" class="denied still">
          {{ t('delivery.withoutSchedules', { names: one.schedules_left_out.join(', ') }) }}
        </p>
        <p v-if="one.without_templates" class="denied still">
          {{ t('delivery.withoutTemplates', one.without_templates) }}
        </p>
        <p v-if="chosen !== one.id && one.incidents[0]" class="denied still one-line">
          {{ t(`incidents.${one.incidents[0].kind}`, { detail: one.incidents[0].detail }) }}
        </p>
        <ControllerRecords v-if="chosen === one.id" :controller="one" />
        <div v-else-if="amiss(one)" class="waiting">
          <RecordsTable :controller="one.id" :name="one.name" :most="MOST_AT_ONCE" />
          <Button
            v-if="amiss(one) > MOST_AT_ONCE"
            size="small"
            severity="secondary"
            variant="text"
            :label="t('delivery.allRecords', { all: amiss(one) })"
            @click="chosen = one.id"
          />
        </div>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.controller {
  border-bottom: 1px solid var(--p-cadrin-hairline);
}
.controller:first-child {
  border-top: 1px solid var(--p-cadrin-hairline);
}
.line {
  display: grid;
  grid-template-columns: 150px 240px 150px 1fr auto;
  align-items: center;
  gap: 14px;
  width: 100%;
  padding: 9px 6px;
  border: 0;
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
.wide {
  grid-column: span 2;
}
@media (width < 1200px) {
  .line {
    grid-template-columns: 110px 236px 80px 1fr auto;
  }
}
.stopped {
  margin-bottom: 10px;
}
.waiting {
  padding: 0 6px 10px 20px;
}
.still {
  padding: 0 6px 8px;
}
.line:hover {
  background: var(--p-cadrin-teal-paper);
}
.meter {
  width: 100%;
  height: 10px;
  appearance: none;
  border-radius: 2px;
  background: var(--p-cadrin-hairline);
}
.meter::-webkit-meter-bar {
  height: 10px;
  border: 0;
  border-radius: 2px;
  background: var(--p-cadrin-hairline);
}
.meter::-webkit-meter-optimum-value {
  background: var(--p-cadrin-teal);
}
</style>
