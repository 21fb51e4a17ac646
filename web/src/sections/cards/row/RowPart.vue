<script setup lang="ts">
import { useRow } from '@/kit/state/row'
import { t } from '@/words'

import RowChoice from './RowChoice.vue'
import RowTable from './RowTable.vue'

/** Cards for many people in a row: one card shown for each, and one confirmation for all. */
const row = useRow()
</script>

<template>
  <div>
    <p class="quiet about">{{ t('row.about') }}</p>
    <RowTable v-if="row.people.length" />
    <RowChoice v-else />
  </div>
</template>

<style scoped>
.about {
  margin-bottom: 10px;
}
</style>
