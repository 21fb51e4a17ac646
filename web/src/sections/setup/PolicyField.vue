<script setup lang="ts">
import { X } from '@lucide/vue'
import { computed } from 'vue'

import type { Problem } from '@/api/client'
import { type Factor, type Policy, togetherWords } from '@/kit/said/factors'
import Field from '@/kit/controls/Field.vue'
import { t } from '@/words'

import MoreFactors from './MoreFactors.vue'

/** What a reader asks for, as a sentence: one thing or another, each with what is presented together. */
const props = defineProps<{
  label?: string
  hasCamera: boolean
  hasFingerScanner: boolean
  hasFaceReader: boolean
  problems?: Problem[]
}>()
const policy = defineModel<Policy>({ required: true })

const FACTORS: Factor[] = ['card', 'plate', 'finger', 'face', 'pin']
const offered = computed(() =>
  FACTORS.filter(
    (factor) =>
      ({
        plate: props.hasCamera,
        finger: props.hasFingerScanner,
        face: props.hasFaceReader,
        card: true,
        pin: true,
      })[factor],
  ),
)
const choices = (without: readonly Factor[]) => offered.value.filter((factor) => !without.includes(factor))
const isLast = (together: readonly Factor[]) => policy.value.length === 1 && together.length === 1

function and(place: number, factor: Factor) {
  policy.value = policy.value.map((together, at) =>
    at === place ? FACTORS.filter((other) => other === factor || together.includes(other)) : together,
  )
}
const or = (factor: Factor) => (policy.value = [...policy.value, [factor]])
function without(place: number, factor: Factor) {
  policy.value = policy.value
    .map((together, at) => (at === place ? together.filter((other) => other !== factor) : together))
    .filter((together) => together.length)
}
</script>

<template>
  <Field v-slot="{ labelId }" :label="label ?? t('readersSetup.policy')" :problems="problems">
    <div class="sentence" role="group" :aria-labelledby="labelId">
      <template v-for="(together, place) in policy" :key="place">
        <span v-if="place > 0" class="quiet">{{ t('factors.or') }}</span>
        <span class="together">
          <template v-for="(factor, at) in together" :key="factor">
            <span v-if="at > 0" class="quiet">{{ t('factors.and') }}</span>
            <span class="factor">
              {{ t(`factors.${factor}`) }}
              <button
                v-if="!isLast(together)"
                type="button"
                :aria-label="
                  t('readersSetup.without', { factor: t(`factors.${factor}`), what: togetherWords(together) })
                "
                @click="without(place, factor)"
              >
                <X :size="12" aria-hidden="true" />
              </button>
            </span>
          </template>
          <MoreFactors
            v-if="choices(together).length"
            :key="together.join()"
            word="and"
            :label="t('readersSetup.togetherWith', { what: togetherWords(together) })"
            :factors="choices(together)"
            @chosen="and(place, $event)"
          />
        </span>
      </template>
      <MoreFactors
        :key="policy.length"
        word="or"
        :label="t('readersSetup.addAlternative')"
        :factors="offered"
        @chosen="or"
      />
    </div>
  </Field>
</template>

<style scoped>
.sentence,
.together {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 8px;
}
.together {
  padding: 2px 4px 2px 8px;
  border-left: 3px solid var(--p-cadrin-teal);
  background: var(--p-cadrin-sheet);
}
.factor {
  display: inline-flex;
  align-items: center;
  gap: 2px;
  font-weight: 600;
}
.factor button {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  width: 24px;
  height: 24px;
  border: 0;
  background: none;
  color: var(--p-cadrin-quiet);
  cursor: pointer;
}
</style>
