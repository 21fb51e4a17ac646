<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useNow } from '@vueuse/core'
import { computed } from 'vue'

import type { FileDraft } from '@/api/client'
import { records } from '@/api/queries'
import { endWords, whenWords } from '@/kit/time/clock'
import StateMark, { type Shape } from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

import { type Credential, credentialsOf, type CredentialState, heldAt } from './credentials'

/** Everything that opens doors for somebody, a line each: what, its state, its time, and where it is held. */
const props = defineProps<{ id: number | null; draft: FileDraft; byCardAlone: boolean }>()
const emit = defineEmits<{ open: [credential: Credential] }>()

const now = useNow({ interval: 30_000 })
const { data: delivery } = useQuery({ ...records(() => props.id ?? 0), enabled: () => props.id !== null })
const SHAPES: Record<CredentialState, Shape> = {
  in_force: 'disc',
  unsaved: 'half',
  pending: 'ring',
  suspended: 'bar',
  expired: 'dash',
  dead: 'cross',
}
const lines = computed(() =>
  credentialsOf(props.draft, now.value).map((one) => ({ ...one, ...heldAt(one, delivery.value) })),
)
const timeWords = ({ from, until }: Credential) =>
  [
    from && new Date(from) > now.value ? t('credentials.from', { when: whenWords(from) }) : '',
    until ? t('credentials.until', { when: endWords(until) }) : t('common.noEnd'),
  ]
    .filter(Boolean)
    .join(', ')
function heldWords(held: string[], wanted: string[]) {
  if (!wanted.length) return t('credentials.heldNowhere')
  if (held.length === wanted.length) return t('credentials.heldAll', { count: held.length }, held.length)
  return t('credentials.heldSome', { held: held.length, wanted: wanted.length })
}
</script>

<template>
  <section id="credentials" class="part" aria-labelledby="credentials-head">
    <div class="row head">
      <h2 id="credentials-head">{{ t('credentials.title') }}</h2>
      <span v-if="byCardAlone" class="tag">{{ t('cardAlone.is') }}</span>
    </div>
    <p v-if="!lines.length" class="quiet">{{ t('credentials.none') }}</p>
    <table v-else>
      <thead class="unseen">
        <tr>
          <th v-for="name in ['what', 'state', 'time', 'held'] as const" :key="name" scope="col">
            {{ t(`credentials.columns.${name}`) }}
          </th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="one in lines"
          :key="one.key"
          :class="{ over: one.state === 'dead' || one.state === 'expired' }"
        >
          <th scope="row">
            <button type="button" class="what" @click="emit('open', one)">{{ one.what }}</button>
            <span v-if="one.label" class="quiet">{{ one.label }}</span>
          </th>
          <td><StateMark :shape="SHAPES[one.state]" :word="one.stateWords" /></td>
          <td class="quiet">{{ timeWords(one) }}</td>
          <td class="quiet" :title="one.held.join(', ')">
            {{ id === null || one.state === 'unsaved' ? '' : heldWords(one.held, one.wanted) }}
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.part {
  margin-top: 18px;
  padding-top: 12px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.head {
  margin-bottom: 4px;
}
table {
  width: 100%;
  border-collapse: collapse;
}
th[scope='row'],
td {
  padding: 3px 10px 3px 0;
  text-align: left;
  vertical-align: baseline;
  font-weight: normal;
}
th[scope='row'] {
  width: 38%;
}
tbody tr + tr > * {
  border-top: 1px dashed var(--p-cadrin-hairline);
}
.what {
  padding: 0;
  margin-right: 8px;
  border: 0;
  background: none;
  color: var(--p-cadrin-teal);
  font: inherit;
  text-decoration: underline;
  cursor: pointer;
}
.what::first-letter {
  text-transform: uppercase;
}
.over .what {
  color: var(--p-cadrin-quiet);
}
</style>
