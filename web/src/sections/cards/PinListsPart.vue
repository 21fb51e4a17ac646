<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { useConfirm } from 'primevue/useconfirm'
import { ref, shallowRef } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { house } from '@/api/queries'
import type { components } from '@/api/schema'
import { useAct } from '@/kit/state/act'
import { whenWords } from '@/kit/time/clock'
import { useRow } from '@/kit/state/row'
import SelectField from '@/kit/controls/SelectField.vue'
import StateMark from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

type Line = components['schemas']['ListedPinShape']

/** Sealed lists of PINs: made for a department, opened once, printed as slips. */
const queries = useQueryClient()
const confirm = useConfirm()
const { data: choices } = useQuery(house)
const { data: lists } = useQuery({
  queryKey: keyOf('pin-lists'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/pin-lists/', { signal })),
})
const { act, isBusy, at, elsewhere } = useAct()
const row = useRow()
const department = ref<number | null>(null)
const slips = shallowRef<Line[]>([])

async function make() {
  await act(() =>
    unwrap(client.POST('/api/pin-lists/', { body: { people: row.chosen, department: department.value } })),
  )
  await queries.invalidateQueries({ queryKey: keyOf('pin-lists') })
}
function open(id: number) {
  confirm.require({
    header: t('pins.open'),
    message: t('pins.openAsk'),
    acceptLabel: t('pins.open'),
    rejectLabel: t('common.cancel'),
    acceptProps: { size: 'small' },
    rejectProps: { severity: 'secondary', size: 'small', variant: 'text' },
    accept: () => void show(id),
  })
}
async function show(id: number) {
  const lines = await act(() =>
    unwrap(client.POST('/api/pin-lists/{id}/open/', { params: { path: { id } } })),
  )
  if (lines) slips.value = lines
  await queries.invalidateQueries({ queryKey: keyOf('pin-lists') })
}
const print = () => window.print()
</script>

<template>
  <div>
    <p class="quiet about">{{ t('pins.listsAbout') }}</p>
    <form class="row make" @submit.prevent="make">
      <p v-if="row.chosen.length" class="chosen">
        {{ t('row.selected', row.chosen.length) }}
        <Button
          size="small"
          severity="secondary"
          variant="text"
          :label="t('batches.clear')"
          @click="row.chosen = []"
        />
      </p>
      <SelectField
        v-else
        v-model="department"
        class="department"
        filter
        :label="t('pins.makeList')"
        :options="choices?.departments ?? []"
        option-label="name"
        option-value="id"
        :problems="at('people')"
      />
      <Button
        class="next"
        type="submit"
        size="small"
        :label="t('pins.makeThemUp')"
        :loading="isBusy"
        :disabled="department === null && !row.chosen.length"
      />
      <span class="denied">{{ elsewhere }}</span>
    </form>
    <section v-if="slips.length" class="opened" :aria-label="t('pins.shownOnce', slips.length)">
      <div class="row">
        <p>{{ t('pins.neverAgain') }}</p>
        <Button class="push" size="small" :label="t('pins.print')" @click="print" />
        <Button size="small" severity="secondary" :label="t('common.close')" @click="slips = []" />
      </div>
      <ul class="slips to-print">
        <li v-for="slip in slips" :key="slip.number" class="slip">
          <span class="one-line">{{ slip.name }}</span>
          <span class="mono quiet">{{ slip.number }}</span>
          <b class="mono">{{ slip.digits }}</b>
        </li>
      </ul>
    </section>
    <p v-if="lists && !lists.length" class="quiet">{{ t('pins.noLists') }}</p>
    <ul>
      <li v-for="one in lists ?? []" :key="one.id" class="list">
        <b>{{ t('pins.listOf', one.count) }}</b>
        <span class="quiet">{{ t('pins.madeBy', { when: whenWords(one.made_at), name: one.made_by }) }}</span>
        <StateMark
          :shape="one.opened_at ? 'dash' : 'disc'"
          :word="one.opened_at ? t('pins.opened', { when: whenWords(one.opened_at) }) : t('pins.sealed')"
        />
        <Button
          v-if="!one.opened_at"
          size="small"
          severity="secondary"
          :label="t('pins.open')"
          @click="open(one.id)"
        />
      </li>
    </ul>
  </div>
</template>

<style scoped>
.about,
.make {
  margin-bottom: 12px;
}
.make {
  align-items: flex-start;
}
.chosen {
  margin-top: 18px;
}
.department {
  width: 240px;
}
.next {
  margin-top: 18px;
}
.opened {
  padding: 10px;
  margin-bottom: 12px;
  background: var(--p-cadrin-amber-paper);
}
.slips {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 10px;
  margin-top: 10px;
}
.slip {
  display: grid;
  padding: 8px 10px;
  border: 1px dashed var(--p-cadrin-ink);
  background: var(--p-cadrin-sheet);
  break-inside: avoid;
}
.slip b {
  font-size: 20px;
  letter-spacing: 0.1em;
}
.list {
  display: grid;
  grid-template-columns: 120px 260px 200px auto;
  align-items: center;
  gap: 14px;
  min-height: 36px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
</style>
