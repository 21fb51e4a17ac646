<script setup lang="ts">
import { SlidersHorizontal } from '@lucide/vue'
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, ref, useId } from 'vue'

import type { components } from '@/api/schema'
import { letGo } from '@/kit/controls/let-go'
import NumberField from '@/kit/controls/NumberField.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import { t } from '@/words'

import { changeColumn, type ColumnChoice, useTheIntake } from './intake'

/** One column: its heading and first values, what it is taken for, and how sure that is. */
const props = defineProps<{
  found: components['schemas']['ColumnShape']
  choice: ColumnChoice
  targets: { value: string; word: string }[]
  taken: ReadonlySet<string>
}>()
const { decide } = useTheIntake()
const id = useId()
const isOpen = ref(false)
const change = (changes: Partial<ColumnChoice>) =>
  void decide((choices) => changeColumn(choices, props.found.column, changes))

const isDate = computed(
  () =>
    ['born_on', 'activation', 'expiry'].includes(props.choice.target) ||
    props.choice.target.startsWith('own.'),
)
const existing = computed(() =>
  (['overwrite', 'fill', 'leave'] as const).map((value) => ({ value, word: t(`intake.existing.${value}`) })),
)
const orders = computed(() =>
  (['', 'day_first', 'month_first'] as const).map((value) => ({
    value,
    word: t(`intake.orders.${value || 'unsaid'}`),
  })),
)
const years = computed(() =>
  (['', 'past', 'near'] as const).map((value) => ({ value, word: t(`intake.years.${value || 'unsaid'}`) })),
)
const sureness = computed(() => {
  if (!props.choice.is_guess) return ''
  return props.choice.target || props.found.sureness === 'unknown'
    ? t(`intake.sureness.${props.found.sureness}`)
    : ''
})
const heading = computed(() => props.found.heading || t('intake.columnNumber', { n: props.found.column + 1 }))
</script>

<template>
  <li>
    <div class="told">
      <span :id="id" class="one-line heading" :title="heading">{{ heading }}</span>
      <span class="one-line quiet samples" :title="found.samples.join(' · ')">{{
        found.samples.join(' · ') || t('intake.noValues')
      }}</span>
    </div>
    <div class="row">
      <Select
        class="target"
        size="small"
        :model-value="choice.target"
        :options="targets"
        option-label="word"
        option-value="value"
        filter
        auto-filter-focus
        :placeholder="t('intake.targets.nothing')"
        :aria-labelledby="id"
        @update:model-value="change({ target: $event })"
        @change="letGo"
      />
      <span class="sure" :class="found.sureness">{{ sureness }}</span>
      <Button
        v-if="choice.target"
        size="small"
        severity="secondary"
        variant="text"
        :aria-expanded="isOpen"
        :aria-label="t('intake.howRead', { heading })"
        @click="isOpen = !isOpen"
      >
        <SlidersHorizontal :size="14" aria-hidden="true" />
      </Button>
    </div>
    <div v-if="isOpen && choice.target" class="more">
      <SelectField
        :model-value="choice.existing"
        :label="t('intake.forExisting')"
        :options="existing"
        @update:model-value="change({ existing: $event })"
      />
      <template v-if="isDate">
        <SelectField
          :model-value="choice.order"
          :label="t('intake.dateOrder')"
          :options="orders"
          @update:model-value="change({ order: $event })"
        />
        <SelectField
          :model-value="choice.short_years"
          :label="t('intake.shortYears')"
          :options="years"
          @update:model-value="change({ short_years: $event })"
        />
      </template>
      <NumberField
        v-if="choice.target === 'number'"
        :model-value="choice.width > 0 ? choice.width : null"
        :label="t('intake.width')"
        :min="0"
        :max="20"
        @update:model-value="change({ width: $event ?? 0 })"
      />
      <ul v-if="Object.keys(choice.replaced).length" class="replaced">
        <li v-for="(after, before) in choice.replaced" :key="before">
          <span>{{ before }} → {{ after || t('intake.emptied') }}</span>
          <Button
            size="small"
            severity="secondary"
            variant="text"
            :label="t('intake.asItWas')"
            @click="
              change({
                replaced: Object.fromEntries(
                  Object.entries(choice.replaced).filter(([key]) => key !== before),
                ),
              })
            "
          />
        </li>
      </ul>
    </div>
  </li>
</template>

<style scoped>
li {
  padding: 5px 0;
}
li + li {
  border-top: 1px solid var(--p-cadrin-hairline);
}
.told {
  display: flex;
  gap: 8px;
  font-size: 13px;
}
.heading {
  flex: none;
  max-width: 55%;
  font-weight: 600;
}
.samples {
  min-width: 0;
}
.row {
  gap: 6px;
}
.target {
  flex: 1;
  min-width: 0;
}
.sure {
  flex: none;
  width: 62px;
  font-size: 12px;
  color: var(--p-cadrin-quiet);
}
.sure.likely,
.sure.unknown {
  color: var(--p-cadrin-ink);
}
.more {
  display: grid;
  gap: 6px;
  padding: 6px 0 6px 10px;
}
.replaced li {
  display: flex;
  align-items: center;
  justify-content: space-between;
  font-size: 13px;
}
</style>
