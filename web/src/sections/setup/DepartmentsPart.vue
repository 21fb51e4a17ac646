<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { Plus } from '@lucide/vue'
import { computed } from 'vue'

import { chosenInAddress } from '@/kit/state/addressed'
import TableExport from '@/kit/controls/TableExport.vue'
import { numberWords, t } from '@/words'

import DepartmentEditor from './DepartmentEditor.vue'
import { departments } from './queries'

/** The tree of departments, and one of them to edit. */
defineProps<{ mayChange: boolean }>()
const { data, isError } = useQuery(departments)

const chosen = chosenInAddress()
const department = computed(() => data.value?.find((one) => one.id === chosen.value))
const nameOf = (id: number | null) => data.value?.find((one) => one.id === id)?.name ?? ''
const table = () =>
  (data.value ?? []).map((one) => [one.number, one.name, nameOf(one.parent_id), String(one.people)])
</script>

<template>
  <div class="both stacks">
    <div class="tree">
      <div class="row">
        <h2>{{ t('setup.parts.departments') }}</h2>
        <TableExport
          v-if="data?.length"
          :name="t('setup.parts.departments')"
          :headings="[t('setup.number'), t('setup.name'), t('setup.below'), t('access.people')]"
          :rows="table"
        />
      </div>
      <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
      <button v-if="mayChange" type="button" class="new" @click="chosen = 'new'">
        <Plus :size="14" aria-hidden="true" /> {{ t('setup.newDepartment') }}
      </button>
      <p v-if="data && !data.length" class="quiet">{{ t('setup.noDepartments') }}</p>
      <ul>
        <li v-for="one in data" :key="one.id">
          <button
            type="button"
            class="one"
            :class="{ here: one.id === chosen, quiet: one.is_retired }"
            :style="{ paddingLeft: `${8 + Math.min(one.depth, 10) * 16}px` }"
            @click="chosen = one.id"
          >
            <span class="mono number">{{ one.number }}</span>
            <span class="one-line">{{ one.name }}</span>
            <span v-if="one.is_retired" class="quiet">{{ t('setup.retired') }}</span>
            <span class="quiet push">{{ one.people ? numberWords(one.people) : '' }}</span>
          </button>
        </li>
      </ul>
    </div>
    <DepartmentEditor
      v-if="data && (department || chosen === 'new')"
      :key="`${chosen}-${department?.version}`"
      :department="department"
      :departments="data"
      :may-change="mayChange"
      @done="chosen = $event"
    />
    <p v-else class="quiet">{{ t('setup.chooseDepartment') }}</p>
  </div>
</template>

<style scoped>
.both {
  display: grid;
  grid-template-columns: minmax(260px, 1fr) minmax(300px, 1.2fr);
  gap: 24px;
}
.new {
  display: flex;
  align-items: center;
  gap: 6px;
  padding: 4px 0;
  border: 0;
  background: none;
  color: var(--p-cadrin-teal);
  cursor: pointer;
}
.one {
  display: flex;
  align-items: baseline;
  gap: 8px;
  width: 100%;
  padding: 4px 8px;
  border: 0;
  border-radius: 4px;
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
.one:hover,
.here {
  background: var(--p-cadrin-teal-paper);
}
.number {
  min-width: 2.5em;
  color: var(--p-cadrin-quiet);
}
</style>
