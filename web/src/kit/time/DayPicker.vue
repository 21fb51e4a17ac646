<script setup lang="ts">
import { CalendarDays } from '@lucide/vue'
import Popover from 'primevue/popover'
import { computed, defineAsyncComponent, useTemplateRef } from 'vue'

import { t } from '@/words'

const DayCalendar = defineAsyncComponent(() => import('./DayCalendar.vue'))

/** A calendar within a field in which a day is typed; Alt and the arrow down open it from there. */
const props = defineProps<{ label: string; day: string | null }>()
const emit = defineEmits<{ pick: [day: string] }>()
const popover = useTemplateRef('popover')
const opener = useTemplateRef('opener')
const shown = computed(() => (props.day ? new Date(`${props.day}T00:00`) : null))
function pick(day: Date) {
  const two = (part: number) => String(part).padStart(2, '0')
  emit('pick', `${day.getFullYear()}-${two(day.getMonth() + 1)}-${two(day.getDate())}`)
  popover.value?.hide()
}
</script>

<template>
  <!-- eslint-disable-next-line vuejs-accessibility/no-static-element-interactions -->
  <span class="box" @keydown.alt.down.prevent="popover?.toggle($event, opener)">
    <slot />
    <button
      ref="opener"
      type="button"
      class="open"
      tabindex="-1"
      aria-haspopup="dialog"
      :title="t('common.calendar')"
      :aria-label="t('common.calendar')"
      @click="popover?.toggle($event)"
    >
      <CalendarDays :size="14" aria-hidden="true" />
    </button>
  </span>
  <Popover
    ref="popover"
    :aria-label="t('common.calendar')"
    @hide="opener?.parentElement?.querySelector('input')?.focus()"
  >
    <DayCalendar :day="shown" @pick="pick" />
  </Popover>
</template>

<style scoped>
.box {
  position: relative;
  display: flex;
}
.box :slotted(input) {
  padding-right: 24px;
}
.open {
  position: absolute;
  inset: 1px 1px 1px auto;
  display: grid;
  place-items: center;
  width: 24px;
  padding: 0;
  border: 0;
  border-radius: 3px;
  background: none;
  color: var(--p-cadrin-quiet);
  cursor: pointer;
}
.open:hover {
  background: var(--p-cadrin-teal-paper);
  color: var(--p-cadrin-teal);
}
</style>
