<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { house } from '@/api/queries'
import { whenWords } from '@/kit/time/clock'
import { t, wordsFor } from '@/words'

import ColumnsPart from './ColumnsPart.vue'
import DecidedPart from './DecidedPart.vue'
import DefaultsPart from './DefaultsPart.vue'
import FaultsPart from './FaultsPart.vue'
import { isAtWork, provideIntake, useIntake } from './intake'
import IntakeBar from './IntakeBar.vue'
import IntakeEffects from './IntakeEffects.vue'
import PeoplePart from './PeoplePart.vue'
import ReadingPart from './ReadingPart.vue'
import { type Asked, EVERY_ROW } from './rows'
import RowsPart from './RowsPart.vue'

/** A list: on the left what it is and what is to be decided, in the middle its rows, on the right what it will do. */
const props = defineProps<{ id: number }>()
const work = useIntake(() => props.id)
provideIntake(work)
const { intake, isError, isOpen } = work
const { data: choices } = useQuery(house)
const asked = ref<Asked>(EVERY_ROW)

const about = computed(() => {
  const found = intake.value
  if (!found) return ''
  return t('intake.about', { rows: found.rows, by: found.by, when: whenWords(found.at) })
})
</script>

<template>
  <p v-if="isError" class="page denied">{{ t('intake.gone') }}</p>
  <div v-else-if="intake && choices" class="intake">
    <div class="left">
      <header>
        <RouterLink :to="{ name: 'intakes' }" class="back">{{ t('intake.title') }}</RouterLink>
        <h1 class="one-line" :title="intake.name">{{ intake.name }}</h1>
        <p class="quiet">{{ about }}</p>
        <p v-if="intake.changed_by && intake.changed_by !== intake.by" class="quiet">
          {{ t('intake.lastDecided', { by: intake.changed_by }) }}
        </p>
      </header>
      <p v-if="intake.failed" class="denied" role="alert">
        {{ wordsFor({ code: intake.failed, field: null, params: {} }) }}
      </p>
      <p v-if="intake.result.why" class="why denied" role="alert">
        {{ t('intake.leftOff', { why: wordsFor(intake.result.why) }) }}
      </p>
      <template v-if="isOpen">
        <FaultsPart :intake="intake" :house="choices" @show="asked = $event" />
        <ColumnsPart :intake="intake" :house="choices" />
        <ReadingPart :intake="intake" />
        <PeoplePart :intake="intake" :house="choices" />
        <DefaultsPart :intake="intake" :house="choices" />
      </template>
      <DecidedPart v-else :intake="intake" :house="choices" />
    </div>
    <RowsPart v-model="asked" class="middle" :intake="intake" :house="choices" />
    <IntakeEffects class="right" :intake="intake" :house="choices" />
    <IntakeBar class="bar" :intake="intake" :is-at-work="isAtWork(intake)" />
  </div>
</template>

<style scoped>
.intake {
  display: grid;
  grid-template: minmax(0, 1fr) auto / 312px minmax(0, 1fr) 264px;
  height: 100%;
}
.left {
  padding: 12px 14px 24px 16px;
  overflow: auto;
  border-right: 1px solid var(--p-cadrin-hairline);
}
.left :deep(section) {
  padding: 10px 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
header {
  padding-bottom: 10px;
}
header p,
.back {
  font-size: 13px;
}
.why {
  padding-bottom: 10px;
}
.middle,
.right {
  min-height: 0;
}
.bar {
  grid-column: 1 / -1;
}
</style>
