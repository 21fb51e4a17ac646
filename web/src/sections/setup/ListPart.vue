<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { byName, t } from '@/words'

import ListEditor from './ListEditor.vue'
import { listed } from './queries'

/** Companies or kinds: one line each, edited in place. */
const props = defineProps<{ which: 'companies' | 'kinds'; mayChange: boolean }>()

const { data, isError } = useQuery(listed(props.which))
const rows = computed(() => byName(data.value ?? [], (one) => one.name))
/** The one that is being edited, or a new one. */
const edited = ref<number | 'new' | null>(null)
const listedNow = computed(() => rows.value.find((one) => one.id === edited.value))
</script>

<template>
  <section class="list">
    <div class="row">
      <h2>{{ t(`setup.parts.${which}`) }}</h2>
      <Button
        v-if="mayChange"
        size="small"
        severity="secondary"
        class="push"
        :label="t(`setup.new.${which}`)"
        @click="edited = 'new'"
      />
    </div>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <p v-if="data && !data.length && edited === null" class="quiet">{{ t('setup.nothing') }}</p>
    <ul>
      <li v-if="edited !== null" class="edit">
        <ListEditor :key="edited" :which="which" :listed="listedNow" @done="edited = null" />
      </li>
      <li v-for="one in rows" :key="one.id" class="line">
        <span class="one-line name" :class="{ quiet: one.is_retired }">{{ one.name }}</span>
        <span v-if="which === 'companies'" class="mono quiet short">{{ one.short_name }}</span>
        <span class="quiet people">{{ t('access.members', one.people) }}</span>
        <span class="quiet retired">{{ one.is_retired ? t('setup.retired') : '' }}</span>
        <Button
          v-if="mayChange"
          size="small"
          severity="secondary"
          variant="text"
          :label="t('setup.edit')"
          :aria-label="`${t('setup.edit')}: ${one.name}`"
          @click="edited = one.id"
        />
      </li>
    </ul>
  </section>
</template>

<style scoped>
.list {
  max-width: 640px;
}
.line {
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: 36px;
  border-bottom: 1px solid var(--p-cadrin-hairline);
}
.name {
  flex: 1;
}
.short {
  width: 8em;
}
.people {
  width: 7em;
}
.retired {
  width: 5em;
}
.edit {
  padding: 10px;
  margin: 8px 0;
  background: var(--p-cadrin-sheet);
  border-left: 3px solid var(--p-cadrin-teal);
}
</style>
