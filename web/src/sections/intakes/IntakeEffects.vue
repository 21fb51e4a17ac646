<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import type { House } from '@/api/client'
import { controllers } from '@/api/queries'
import { numberWords, t } from '@/words'

import { type Intake, isAtWork } from './intake'
import { fieldWord } from './words'

/** What it will do, or did: people, doors, cards, records, and who will not be ready. */
const props = defineProps<{ intake: Intake; house: House }>()
const { data: known } = useQuery({ ...controllers, refetchInterval: false })

const summary = computed(() => props.intake.summary)
const doorName = (id: number) => props.house.doors.find((one) => one.id === id)?.name ?? '?'
const controllerName = (id: number) => known.value?.find((one) => one.id === id)?.name ?? '?'
const formatName = (id: number) => props.house.formats.find((one) => one.id === id)?.name ?? '?'
const isDone = computed(() => ['applied', 'undone', 'undoing'].includes(props.intake.state))
const people = computed(() => {
  const rows = summary.value?.rows
  if (!rows) return []
  return (['new', 'changed', 'missing', 'same', 'left_out', 'faulty'] as const)
    .filter((state) => rows[state])
    .map((state) => ({
      state,
      text: t(`intake.people.${state}`, rows[state]),
    }))
})
const changesAnything = computed(() => props.intake.new + props.intake.changed > 0)
</script>

<template>
  <aside class="effects" :aria-label="t('intake.willDo')" aria-live="polite">
    <h2>{{ isDone ? t('intake.did') : t('intake.willDo') }}</h2>
    <p v-if="!summary && !isAtWork(intake) && intake.state === 'open'" class="quiet">
      {{ t('intake.notWorkedOut') }}
    </p>
    <p v-if="intake.state === 'discarded'" class="quiet">{{ t('intake.wasDiscarded') }}</p>
    <p v-if="intake.state === 'undone'">
      <b>{{ t('intake.wasUndone') }}</b>
    </p>
    <template v-if="summary">
      <ul class="people">
        <li v-for="one in people" :key="one.state" :class="one.state">{{ one.text }}</li>
        <li v-if="!people.length" class="quiet">{{ t('intake.nobody') }}</li>
      </ul>
      <p v-if="summary.numbers_given" class="quiet">
        {{ t('intake.numbersGiven', summary.numbers_given) }}
      </p>
      <template v-if="summary.fields_changed.length">
        <h3>{{ t('intake.fieldsChanged') }}</h3>
        <ul class="counts">
          <li v-for="one in summary.fields_changed" :key="one.field">
            <span>{{ fieldWord(one.field, house) }}</span><b>{{ numberWords(one.count) }}</b>
          </li>
        </ul>
      </template>
      <template v-if="changesAnything">
        <h3>{{ t('intake.doors') }}</h3>
        <p v-if="!summary.doors.length" class="quiet">{{ t('intake.noDoors') }}</p>
        <ul class="counts">
          <li v-for="one in summary.doors" :key="one.door">
            <span class="one-line">{{ doorName(one.door) }}</span>
            <span>
              <b v-if="one.gained" class="gained">+{{ numberWords(one.gained) }}</b>
              <b v-if="one.lost" class="lost">−{{ numberWords(one.lost) }}</b>
            </span>
          </li>
        </ul>
      </template>
      <template v-if="summary.cards.length || summary.cards_given_up">
        <h3>{{ t('intake.cards') }}</h3>
        <ul class="counts">
          <li v-for="one in summary.cards" :key="`${one.format} ${one.facility_code} ${one.first}`">
            <span>
              {{ formatName(one.format) }}, {{ one.facility_code }}:
              <span class="mono">{{ one.first === one.last ? one.first : `${one.first}–${one.last}` }}</span>
              <span class="quiet where">
                {{ one.is_from_box ? t('intake.fromBox') : t('intake.fromNoBox') }}</span
              >
            </span>
            <b>{{ numberWords(one.count) }}</b>
          </li>
          <li v-if="summary.cards_given_up">
            <span>{{ t('intake.givenUp') }}</span><b>{{ numberWords(summary.cards_given_up) }}</b>
          </li>
        </ul>
      </template>
      <template v-if="summary.records.length">
        <h3>{{ t('intake.records') }}</h3>
        <ul class="counts">
          <li v-for="one in summary.records" :key="one.controller">
            <span>
              {{ controllerName(one.controller) }}
              <span v-if="one.no_room" class="denied">{{ t('intake.noRoom', one.no_room) }}</span>
            </span>
            <b>{{ numberWords(one.count) }}</b>
          </li>
        </ul>
      </template>
      <template v-if="summary.not_ready.length">
        <h3>{{ t('intake.notReady') }}</h3>
        <ul class="counts">
          <li v-for="one in summary.not_ready" :key="one.gap">
            <span>
              {{ t(`gaps.${one.gap}`) }}
              <span class="quiet examples"
                >{{ one.examples.join(', ') }}{{ one.count > one.examples.length ? '…' : '' }}</span
              >
            </span>
            <b>{{ numberWords(one.count) }}</b>
          </li>
        </ul>
      </template>
    </template>
    <template v-if="intake.result.left.length">
      <h3>{{ t('intake.left') }}</h3>
      <p class="quiet">{{ intake.result.left.slice(0, 20).join(', ') }}{{ intake.left > 20 ? '…' : '' }}</p>
    </template>
    <p v-if="intake.result.pin_list">
      <RouterLink :to="{ name: 'cards', params: { part: 'pins' } }">{{ t('intake.toPinList') }}</RouterLink>
    </p>
  </aside>
</template>

<style scoped>
.effects {
  padding: 12px 14px 20px;
  overflow: auto;
  border-left: 1px solid var(--p-cadrin-hairline);
  background: var(--p-cadrin-sheet);
  font-size: 13px;
}
h2 {
  margin-bottom: 4px;
}
h3 {
  margin: 12px 0 2px;
}
.people .new,
.people .changed,
.people .missing {
  font-size: 15px;
  font-weight: 600;
}
.faulty {
  color: var(--p-cadrin-brick);
}
.counts li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 1px 0;
}
.counts li > span {
  min-width: 0;
}
.where {
  margin-left: 4px;
}
.examples {
  display: block;
  font-size: 12px;
}
.gained {
  color: var(--p-cadrin-teal);
}
.lost {
  margin-left: 6px;
  color: var(--p-cadrin-brick);
}
</style>
