<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { useConfirm } from 'primevue/useconfirm'
import { ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { flagInAddress } from '@/kit/state/addressed'
import { useAct } from '@/kit/state/act'
import { useSession } from '@/kit/state/session'
import StateMark from '@/kit/controls/StateMark.vue'
import TableExport from '@/kit/controls/TableExport.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import BoxEditor from './BoxEditor.vue'
import { type Box, boxes } from './queries'

/** The boxes of cards that the site owns, and what became of them. */
const { data, isPending, isError } = useQuery(boxes)
const mayEnter = useSession().may('issue')
const isEntering = flagInAddress('new')
const queries = useQueryClient()
const confirm = useConfirm()
const { act, isBusy, at, elsewhere } = useAct()
const changing = ref<Pick<Box, 'id' | 'kept_where' | 'remarks'> | null>(null)

function begin({ id, kept_where, remarks }: Box) {
  changing.value = { id, kept_where, remarks }
}
async function done(asked: () => Promise<unknown>) {
  const isDone = await act(async () => {
    await asked()
    return true
  })
  if (isDone) changing.value = null
  await queries.invalidateQueries({ queryKey: keyOf('boxes') })
}
async function change() {
  if (!changing.value) return
  const { id, ...body } = changing.value
  await done(() => unwrap(client.PUT('/api/boxes/{id}/', { params: { path: { id } }, body })))
}
function askToRemove({ id, free }: Box) {
  confirm.require({
    header: t('stock.remove'),
    message: t('stock.removeAsk', free),
    acceptLabel: t('stock.remove'),
    rejectLabel: t('common.cancel'),
    acceptProps: { size: 'small', severity: 'danger' },
    rejectProps: { severity: 'secondary', size: 'small', variant: 'text' },
    accept: () => void done(() => unwrap(client.DELETE('/api/boxes/{id}/', { params: { path: { id } } }))),
  })
}

const card = (box: Box, number: number) => `${box.facility_code}-${String(number).padStart(5, '0')}`
const STANDINGS = ['held', 'free', 'gone', 'missing'] as const
const table = () =>
  (data.value ?? []).map((box) => [
    box.format_name,
    ...[box.facility_code, box.first, box.last].map(String),
    box.kept_where,
    box.remarks,
    ...STANDINGS.map((part) => String(box[part])),
  ])
const parts = (box: Box) =>
  STANDINGS.map((part) => ({
    part,
    count: box[part],
    width: `${(100 * box[part]) / box.size}%`,
  }))
</script>

<template>
  <div>
    <div class="row head">
      <Button v-if="mayEnter" size="small" :label="t('stock.enter')" @click="isEntering = true" />
      <TableExport
        v-if="data?.length"
        :name="t('cards.partsOf.stock')"
        :headings="[
          t('file.format'),
          t('file.facility_code'),
          t('stock.first'),
          t('stock.last'),
          t('stock.keptWhere'),
          t('access.remarks'),
          ...STANDINGS.map((part) => t(`stock.heads.${part}`)),
        ]"
        :rows="table"
      />
    </div>
    <p class="denied" role="alert">{{ elsewhere }}</p>
    <BoxEditor v-if="isEntering && data" :last="data[0]" @done="isEntering = false" />
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <p v-else-if="isPending" class="quiet">{{ t('common.loading') }}</p>
    <p v-else-if="!data?.length" class="quiet">{{ t('stock.none') }}</p>
    <ul v-else>
      <li v-for="box in data" :key="box.id" class="box stacks">
        <div>
          <b class="mono">{{ card(box, box.first) }}</b>
          <span v-if="box.last > box.first" class="mono"> … {{ card(box, box.last) }}</span>
          <span class="quiet about">{{
            [box.format_name, box.kept_where, box.remarks].filter(Boolean).join(', ')
          }}</span>
        </div>
        <div>
          <div class="bar" aria-hidden="true">
            <i v-for="one in parts(box)" :key="one.part" :class="one.part" :style="{ width: one.width }" />
          </div>
          <span v-for="one in parts(box).filter((part) => part.count)" :key="one.part" class="count">
            <i class="key" :class="one.part" aria-hidden="true" />
            {{ t(`stock.${one.part}`, { count: one.count }) }}
          </span>
        </div>
        <span class="row acts">
          <StateMark v-if="box.is_running_out" shape="half" :word="t('stock.few')" />
          <template v-if="mayEnter">
            <Button
              size="small"
              severity="secondary"
              variant="text"
              class="push"
              :label="t('stock.change')"
              :aria-label="`${t('stock.change')}: ${card(box, box.first)}`"
              @click="begin(box)"
            />
            <Button
              size="small"
              severity="secondary"
              variant="text"
              :label="t('stock.remove')"
              :aria-label="`${t('stock.remove')}: ${card(box, box.first)}`"
              @click="askToRemove(box)"
            />
          </template>
        </span>
        <form v-if="changing?.id === box.id" class="row change" @submit.prevent="change">
          <TextField
            v-model="changing.kept_where"
            :label="t('stock.keptWhere')"
            :problems="at('kept_where')"
          />
          <TextField v-model="changing.remarks" :label="t('access.remarks')" :problems="at('remarks')" />
          <Button class="save" type="submit" size="small" :label="t('common.save')" :loading="isBusy" />
          <Button
            class="save"
            size="small"
            severity="secondary"
            variant="text"
            :label="t('common.cancel')"
            @click="changing = null"
          />
        </form>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.head {
  margin-bottom: 10px;
}
.box {
  display: grid;
  grid-template-columns: minmax(250px, 330px) minmax(240px, 1fr) 250px;
  align-items: center;
  gap: 20px;
  padding: 8px 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.change {
  grid-column: 1 / -1;
  align-items: flex-start;
}
.save {
  margin-top: 18px;
}
.about {
  display: block;
  font-size: 13px;
}
.bar {
  display: flex;
  height: 10px;
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 2px;
  overflow: hidden;
}
.count {
  margin-right: 16px;
  font-size: 13px;
}
.key {
  display: inline-block;
  width: 10px;
  height: 10px;
  border: 1px solid var(--p-cadrin-hairline);
}
.held {
  background: var(--p-cadrin-teal);
}
.free {
  background: var(--p-cadrin-sheet);
}
.gone {
  background: var(--p-cadrin-brick);
}
.missing {
  background: var(--p-cadrin-quiet);
}
</style>
