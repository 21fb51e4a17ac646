<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import { computed, useId } from 'vue'

import type { Problem } from '@/api/client'
import { type Factor, factorLabel, type Policy, togetherWords } from '@/kit/factors'
import Field from '@/kit/Field.vue'
import { t } from '@/words'

/** What a reader asks for: any one of the alternatives, each with what is presented together. */
const props = defineProps<{
  label?: string
  hasCamera: boolean
  hasFingerScanner: boolean
  hasFaceReader: boolean
  problems?: Problem[]
}>()
const policy = defineModel<Policy>({ required: true })
const id = useId()

const FACTORS: Factor[] = ['card', 'plate', 'finger', 'face', 'pin']
const isThere = (factor: Factor) =>
  ({
    plate: props.hasCamera,
    finger: props.hasFingerScanner,
    face: props.hasFaceReader,
    card: true,
    pin: true,
  })[factor]
const offered = computed(() =>
  FACTORS.filter((factor) => isThere(factor) || policy.value.some((one) => one.includes(factor))),
)
function choose(place: number, factor: Factor, isChosen: boolean) {
  policy.value = policy.value.map((together, at) =>
    at === place
      ? FACTORS.filter((other) => (other === factor ? isChosen : together.includes(other)))
      : together,
  )
}
const remove = (place: number) => (policy.value = policy.value.filter((_, at) => at !== place))
const add = () => (policy.value = [...policy.value, ['card']])
</script>

<template>
  <Field v-slot="{ labelId }" :label="label ?? t('readersSetup.policy')" :problems="problems">
    <ul class="policy" :aria-labelledby="labelId">
      <li v-for="(together, place) in policy" :key="place" class="row">
        <span v-if="place > 0" class="quiet">{{ t('factors.or') }}</span>
        <label v-for="factor in offered" :key="factor" class="row" :for="`${id}-${place}-${factor}`">
          <Checkbox
            :model-value="together.includes(factor)"
            binary
            :input-id="`${id}-${place}-${factor}`"
            @update:model-value="choose(place, factor, $event === true)"
          />
          {{ factorLabel(factor) }}
        </label>
        <Button
          v-if="policy.length > 1"
          text
          size="small"
          :label="t('common.remove')"
          :aria-label="t('readersSetup.removeAlternative', { what: togetherWords(together) })"
          @click="remove(place)"
        />
      </li>
    </ul>
    <Button class="add" text size="small" :label="t('readersSetup.addAlternative')" @click="add" />
  </Field>
</template>

<style scoped>
.policy {
  display: grid;
  gap: 4px;
}
.add {
  align-self: flex-start;
}
.row {
  display: flex;
  align-items: center;
  gap: 4px 10px;
}
</style>
