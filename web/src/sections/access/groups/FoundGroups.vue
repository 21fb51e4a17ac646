<script setup lang="ts">
import Button from 'primevue/button'

import type { Group, House } from '@/api/client'
import { t } from '@/words'

import { type AtDoor, doorsWords } from './at-doors'

/** Groups beside what is wanted: what more each gives, what less, and putting somebody in. */
defineProps<{
  title: string
  empty: string
  lines: { more: AtDoor[]; less: AtDoor[]; group: Group }[]
  doors: House['doors']
  isIn: (group: number) => boolean
  mayPutIn: boolean
  isBusy: boolean
}>()
const emit = defineEmits<{ putIn: [group: Group] }>()
</script>

<template>
  <h2>{{ title }}</h2>
  <p v-if="!lines.length" class="quiet">{{ empty }}</p>
  <ul>
    <li v-for="{ group, more, less } in lines" :key="group.id">
      <div>
        <RouterLink :to="{ name: 'access', params: { part: 'groups', id: group.id } }">{{
          group.name
        }}</RouterLink>
        <span class="quiet count">{{ t('access.members', group.member_count) }}</span>
        <p v-if="more.length">{{ t('finder.more', { doors: doorsWords(more, doors) }) }}</p>
        <p v-if="less.length">{{ t('finder.less', { doors: doorsWords(less, doors) }) }}</p>
      </div>
      <span v-if="isIn(group.id)" class="quiet">{{ t('finder.isIn') }}</span>
      <Button
        v-else-if="mayPutIn"
        size="small"
        severity="secondary"
        :disabled="isBusy"
        :label="t('access.putIn')"
        :aria-label="`${t('access.putIn')}: ${group.name}`"
        @click="emit('putIn', group)"
      />
    </li>
  </ul>
</template>

<style scoped>
h2 {
  margin: 16px 0 4px;
}
li {
  display: grid;
  grid-template-columns: 1fr auto;
  align-items: center;
  gap: 12px;
  padding: 5px 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.count {
  margin-left: 8px;
}
li p {
  font-size: 13px;
}
</style>
