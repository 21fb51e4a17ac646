<script setup lang="ts">
import { ArrowDown, ArrowUp, ChevronsLeftRight, ChevronsRightLeft, Columns3 } from '@lucide/vue'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import Popover from 'primevue/popover'
import { computed, ref } from 'vue'

import { t } from '@/words'

import { type ListColumn, widened, type Widths } from './columns'

/** Choose columns and put them in order; the chosen ones stand first. */
const props = defineProps<{ all: ListColumn[] }>()
const keys = defineModel<string[]>({ required: true })
const widths = defineModel<Widths>('widths', { required: true })
const sizes = [
  { by: 1, word: 'wider', icon: ChevronsLeftRight },
  { by: -1, word: 'narrower', icon: ChevronsRightLeft },
] as const

const popover = ref<InstanceType<typeof Popover>>()
const lines = computed(() => [
  ...keys.value.flatMap((key) => props.all.find((one) => one.key === key) ?? []),
  ...props.all.filter((one) => !keys.value.includes(one.key)),
])
function move(key: string, by: number) {
  const now = [...keys.value]
  const place = now.indexOf(key)
  now.splice(place + by, 0, ...now.splice(place, 1))
  keys.value = now
}
</script>

<template>
  <Button size="small" severity="secondary" variant="text" @click="popover?.toggle($event)">
    <Columns3 :size="14" aria-hidden="true" /> {{ t('columns.choose') }}
  </Button>
  <Popover ref="popover" :aria-label="t('columns.choose')">
    <ul class="lines">
      <li v-for="one in lines" :key="one.key">
        <Checkbox v-model="keys" :value="one.key" :input-id="`column-${one.key}`" size="small" />
        <label :for="`column-${one.key}`">{{ one.word }}</label>
        <template v-if="keys.includes(one.key)">
          <button
            type="button"
            :aria-label="t('columns.left', { name: one.word })"
            :disabled="keys[0] === one.key"
            @click="move(one.key, -1)"
          >
            <ArrowUp :size="13" aria-hidden="true" />
          </button>
          <button
            type="button"
            :aria-label="t('columns.right', { name: one.word })"
            :disabled="keys[keys.length - 1] === one.key"
            @click="move(one.key, 1)"
          >
            <ArrowDown :size="13" aria-hidden="true" />
          </button>
          <button
            v-for="{ by, word, icon } in sizes"
            :key="by"
            type="button"
            :title="t(`columns.${word}`, { name: one.word })"
            :aria-label="t(`columns.${word}`, { name: one.word })"
            :disabled="!widened(widths, one.key, by)"
            @click="widths = widened(widths, one.key, by) ?? widths"
          >
            <component :is="icon" :size="13" aria-hidden="true" />
          </button>
        </template>
      </li>
    </ul>
  </Popover>
</template>

<style scoped>
.lines {
  max-height: 60vh;
  min-width: 230px;
  overflow: auto;
}
li {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 28px;
}
label {
  flex: 1;
}
button {
  padding: 2px 4px;
  border: 0;
  background: none;
  color: var(--p-cadrin-teal);
  cursor: pointer;
}
button:disabled {
  opacity: 0.35;
}
</style>
