<script setup lang="ts">
import { Plus, X } from '@lucide/vue'
import Button from 'primevue/button'
import Select from 'primevue/select'

import type { Problem } from '@/api/client'
import Field from '@/kit/controls/Field.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import type { typed } from './layout'

/** The numbers of a format and the checks over its bits, a line each. */
defineProps<{ problemsAt: (place: string) => Problem[]; wordOf: (name: string) => string }>()
const layout = defineModel<ReturnType<typeof typed>>({ required: true })

const codings = (['binary', 'binary_least_first', 'decimal', 'decimal_least_first'] as const).map(
  (value) => ({
    value,
    word: t(`cards.codings.${value}`),
  }),
)
const kinds = (['even', 'odd'] as const).map((value) => ({ value, word: t(`cards.${value}`) }))
</script>

<template>
  <div class="lines">
    <h3>{{ t('cards.numbers') }}</h3>
    <p class="quiet hint">{{ t('cards.bitsHint') }}</p>
    <div v-for="(one, place) in layout.fields" :key="place" class="line">
      <TextField v-model="one.name" :label="t('setup.name')" />
      <TextField v-model="one.bits" is-mono :label="t('cards.bits')" :problems="problemsAt(one.name)" />
      <Field v-slot="{ labelId }" :label="t('cards.coding')">
        <Select
          v-model="one.coding"
          :options="codings"
          option-label="word"
          option-value="value"
          size="small"
          :aria-labelledby="labelId"
        />
      </Field>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        class="drop"
        :aria-label="`${t('common.remove')}: ${wordOf(one.name)}`"
        @click="layout.fields.splice(place, 1)"
      >
        <X :size="14" aria-hidden="true" />
      </Button>
    </div>
    <Button
      size="small"
      severity="secondary"
      variant="text"
      class="add"
      @click="layout.fields.push({ name: '', bits: '', coding: 'binary' })"
    >
      <Plus :size="14" aria-hidden="true" /> {{ t('cards.addNumber') }}
    </Button>
    <h3>{{ t('cards.parity') }}</h3>
    <div v-for="(one, place) in layout.parity" :key="`p${place}`" class="line">
      <TextField
        v-model="one.bit"
        is-mono
        :label="t('cards.parityBit')"
        :problems="problemsAt(`parity.${place}`)"
      />
      <TextField v-model="one.over" is-mono :label="t('cards.over')" />
      <Field v-slot="{ labelId }" :label="t('cards.kind')">
        <Select
          v-model="one.kind"
          :options="kinds"
          option-label="word"
          option-value="value"
          size="small"
          :aria-labelledby="labelId"
        />
      </Field>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        class="drop"
        :aria-label="`${t('common.remove')}: ${t('cards.parityBit')} ${one.bit}`"
        @click="layout.parity.splice(place, 1)"
      >
        <X :size="14" aria-hidden="true" />
      </Button>
    </div>
    <Button
      size="small"
      severity="secondary"
      variant="text"
      class="add"
      @click="layout.parity.push({ bit: '', kind: 'even', over: '' })"
    >
      <Plus :size="14" aria-hidden="true" /> {{ t('cards.addParity') }}
    </Button>
  </div>
</template>

<style scoped>
.lines {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.line {
  display: grid;
  grid-template-columns: 180px 1fr 210px auto;
  gap: 8px;
}
.add {
  align-self: flex-start;
}
.drop {
  margin-top: 18px;
}
.hint {
  margin-top: -6px;
  font-size: 12px;
}
</style>
