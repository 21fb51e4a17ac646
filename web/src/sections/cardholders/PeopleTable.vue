<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import Column from 'primevue/column'
import DataTable from 'primevue/datatable'
import { ref } from 'vue'

import type { CardholderRow } from '@/api/client'
import { shapeOfState } from '@/kit/controls/marks'
import PortraitImage from '@/kit/controls/PortraitImage.vue'
import StateMark from '@/kit/controls/StateMark.vue'
import { unboxed } from '@/kit/controls/table'
import { t } from '@/words'

import type { useColumns, Widths } from './columns'
import type { useSelection } from './many/selection'

/** The table of cardholders, with a tick for each and the columns that were chosen. */
const props = defineProps<{
  rows: CardholderRow[]
  columns: ReturnType<typeof useColumns>['chosen']['value']
  widths: Widths
  isLoading: boolean
  chosen: number | undefined
  selection: ReturnType<typeof useSelection>
}>()
const sort = defineModel<string>('sort', { required: true })
const emit = defineEmits<{ open: [row: CardholderRow] }>()

/** A column that was made wider or narrower is as wide as it was made, whatever stands in it. */
function sizeOf(key: string) {
  const width = props.widths[key]
  return width === undefined ? {} : { width: `${width}px`, maxWidth: `${width}px` }
}
/** Shift ticks everybody in between. */
const isRange = ref(false)
function tick(id: number) {
  if (isRange.value)
    props.selection.reach(
      id,
      props.rows.map((row) => row.id),
    )
  else props.selection.toggle(id)
}
function sorted(field: string, order: number) {
  sort.value = order < 0 ? `-${field}` : field
}
</script>

<template>
  <div class="people-table">
    <DataTable
      :value="rows"
      :loading="isLoading"
      data-key="id"
      :pt="unboxed"
      size="small"
      row-hover
      removable-sort
      lazy
      :sort-field="sort.replace('-', '')"
      :sort-order="sort.startsWith('-') ? -1 : 1"
      :row-class="(row: CardholderRow) => ({ chosen: row.id === chosen })"
      @row-click="emit('open', $event.data)"
      @sort="sorted(String($event.sortField ?? 'name'), $event.sortOrder ?? 1)"
    >
      <template #empty>{{ isLoading ? t('common.loading') : t('list.empty') }}</template>
      <Column :pt="{ headerCell: { class: 'tick' } }">
        <template #header>
          <Checkbox
            binary
            size="small"
            :model-value="rows.length > 0 && rows.every((row) => selection.has(row.id))"
            :aria-label="t('batches.selectShown')"
            @update:model-value="
              $event ? selection.selectThese(rows.map((row) => row.id)) : selection.clear()
            "
          />
        </template>
        <template #body="{ data: row }: { data: CardholderRow }">
          <!-- eslint-disable-next-line vuejs-accessibility/click-events-have-key-events, vuejs-accessibility/no-static-element-interactions -->
          <span
            class="box"
            :title="t('batches.range')"
            @click.stop
            @click.capture="isRange = $event.shiftKey"
          >
            <Checkbox
              binary
              size="small"
              :model-value="selection.has(row.id)"
              :aria-label="t('batches.select', { name: row.display_name })"
              @update:model-value="tick(row.id)"
            />
          </span>
        </template>
      </Column>
      <Column field="name" :header="t('list.name')" sortable>
        <template #body="{ data: row }: { data: CardholderRow }">
          <RouterLink class="name" :to="{ name: 'cardholder', params: { id: row.id } }" @click.stop>
            <StateMark :shape="shapeOfState[row.state]" :word="t(`states.${row.state}`)" is-word-hidden />
            <PortraitImage class="face" :token="row.portrait" :name="row.display_name" size="list" />
            <span class="one-line">{{ row.display_name }}</span>
            <span v-if="row.is_by_card_alone" class="tag" :title="t('cardAlone.label')">{{
              t('cardAlone.is')
            }}</span>
          </RouterLink>
        </template>
      </Column>
      <Column
        v-for="column in columns"
        :key="column.key"
        :field="column.sort ?? column.key"
        :header="column.word"
        :sortable="!!column.sort"
      >
        <template #body="{ data: row }: { data: CardholderRow }">
          <template v-if="column.key === 'readiness'">
            <StateMark v-if="!row.gaps.length" shape="disc" :word="t('list.readyYes')" />
            <StateMark
              v-else
              class="gaps"
              :style="sizeOf(column.key)"
              shape="ring"
              :word="row.gaps.map((gap) => t(`gaps.${gap}`)).join(', ')"
              :title="row.gaps.map((gap) => t(`gaps.${gap}`)).join(', ')"
            />
          </template>
          <span
            v-else
            class="one-line cell"
            :class="{ mono: column.isMono }"
            :style="sizeOf(column.key)"
            :title="column.text(row)"
          >
            {{ column.text(row) }}
          </span>
        </template>
      </Column>
    </DataTable>
  </div>
</template>

<style scoped>
.people-table :deep(tbody tr) {
  height: 34px;
  cursor: pointer;
}
.people-table :deep(thead) {
  position: sticky;
  top: 0;
  z-index: 1;
}
.people-table :deep(tr.chosen) {
  background: var(--p-cadrin-teal-paper);
  box-shadow: inset 3px 0 0 var(--p-cadrin-teal);
}
.face {
  flex: none;
  width: 22px;
  height: 27px;
  font-size: 10px;
  border-radius: 2px;
  background: var(--p-cadrin-hairline);
  color: var(--p-cadrin-quiet);
}
.name {
  display: flex;
  align-items: center;
  gap: 8px;
  max-width: 300px;
  color: inherit;
  text-decoration: none;
}
.cell {
  display: block;
  max-width: 182px;
}
.box {
  display: flex;
}
.people-table :deep(.tick) {
  width: 34px;
}
.gaps {
  max-width: 205px;
}
</style>
