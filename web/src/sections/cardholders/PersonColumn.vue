<script setup lang="ts">
import { computed } from 'vue'

import CopyButton from '@/kit/controls/CopyButton.vue'
import type { Consequences, FileDraft, Gap, Readiness } from '@/api/client'
import { endWords, whenWords } from '@/kit/time/clock'
import { shapeOfState } from '@/kit/controls/marks'
import PortraitImage from '@/kit/controls/PortraitImage.vue'
import StateMark from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

import PresenceLine from './PresenceLine.vue'

const props = defineProps<{
  draft: FileDraft
  readiness: Readiness[]
  /** The state now by what is drafted, with its dates; none before it was worked out. */
  condition: Pick<Consequences, 'state' | 'state_until' | 'expired_at'> | null
  isNew: boolean
  cardholderId: number | null
  /** Controllers that do not know yet what was taken away. */
  stillWorksAt: string[]
  /** What does not open where it would, as a controller has no room for it. */
  leftOut: string[]
  /** Controllers that do not answer at present: what they hold is what they last said. */
  silentAt: string[]
}>()
const emit = defineEmits<{ mend: [gap: Gap] }>()

const name = computed(() => `${props.draft.first_name} ${props.draft.last_name}`.trim())
const portrait = computed(() => props.draft.images[0])
const isReady = computed(() => props.readiness.length > 0 && props.readiness.every((one) => one.gap === null))
const state = computed(() => {
  const { state = null, state_until: until = null, expired_at: end = null } = props.condition ?? {}
  if (state === null) return { shape: 'ring' as const, word: t(`standings.${props.draft.standing}`) }
  const when = until ?? end
  const isEnd = state === 'in_force' || state === 'expired'
  return {
    shape: shapeOfState[state],
    word: when
      ? t(`file.states.${state}Dated`, { when: isEnd ? endWords(when) : whenWords(when) })
      : t(`file.states.${state}`),
  }
})
const startsAt = computed(() => (props.condition?.state === 'pending' ? props.condition.state_until : null))

function metWords(item: Readiness): string {
  if (item.need === 'delivery' && props.isNew) return t('met.unsavedDelivery')
  if (item.need === 'delivery' && props.silentAt.length)
    return t('met.silentDelivery', { names: props.silentAt.join(', ') })
  return t(`met.${item.need}`)
}
</script>

<template>
  <aside class="person">
    <PortraitImage class="face" :token="portrait" :name="name" size="page" />
    <h1 :class="{ quiet: !name }" :title="name">{{ name || (isNew ? t('file.new') : t('file.noName')) }}</h1>
    <p v-if="draft.number" class="mono">{{ draft.number }} <CopyButton :text="draft.number" /></p>
    <p class="state" :class="{ over: condition?.state === 'expired' }">
      <StateMark :shape="state.shape" :word="state.word" />
    </p>

    <PresenceLine v-if="cardholderId !== null" :cardholder-id="cardholderId" />
    <p v-if="stillWorksAt.length" class="still" role="alert">
      {{ t('file.stillWorks', { names: stillWorksAt.join(', ') }) }}
    </p>
    <p v-for="words in leftOut" :key="words" class="still">{{ words }}</p>
    <h2 class="head">{{ t('file.readiness') }}</h2>
    <ul v-if="readiness.length">
      <li v-for="item in readiness" :key="item.need" class="need" :class="{ met: item.gap === null }">
        <StateMark :shape="item.gap === null ? 'disc' : 'ring'" :word="t(`needs.${item.need}`)" />
        <p class="quiet">{{ item.gap === null ? metWords(item) : t(`gaps.${item.gap}`) }}</p>
        <button v-if="item.gap" type="button" class="mend" @click="emit('mend', item.gap)">
          {{ t(`mends.${item.gap}`) }}
        </button>
      </li>
    </ul>
    <p v-if="isReady" class="ready">
      {{ startsAt ? t('file.readyFrom', { when: whenWords(startsAt) }) : t('file.ready') }}
    </p>
  </aside>
</template>

<style scoped>
.person {
  padding: 14px 16px;
  overflow: auto;
}
.face {
  width: 84px;
  height: 108px;
  margin-bottom: 10px;
  font-size: 28px;
}
h1 {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 4;
  line-clamp: 4;
  overflow: hidden;
  line-height: 1.2;
  overflow-wrap: anywhere;
}
.state :deep(.mark) {
  white-space: normal;
}
.over :deep(.mark) {
  font-weight: 600;
  color: var(--p-cadrin-brick);
}
.head {
  margin: 18px 0 6px;
  padding-top: 10px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.still {
  margin-top: 10px;
  padding: 6px 8px;
  border-left: 3px solid var(--p-cadrin-brick);
  background: var(--p-cadrin-amber-paper);
}
.need {
  padding: 5px 0;
}
.need p {
  padding-left: 18px;
  font-size: 13px;
}
.mend {
  margin-left: 18px;
  padding: 0;
  font-size: 13px;
  border: 0;
  background: none;
  color: var(--p-cadrin-teal);
  text-decoration: underline;
  cursor: pointer;
}
.ready {
  margin-top: 8px;
  padding: 6px 8px;
  background: var(--p-cadrin-teal-paper);
  border-radius: 4px;
}
</style>
