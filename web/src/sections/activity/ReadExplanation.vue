<script setup lang="ts">
import { X } from '@lucide/vue'
import { useQuery } from '@tanstack/vue-query'
import { computed, onMounted, useTemplateRef } from 'vue'

import { explanation } from '@/api/queries'
import { momentWords, whenWords } from '@/kit/time/clock'
import CopyButton from '@/kit/controls/CopyButton.vue'
import GiveTo from '@/kit/controls/GiveTo.vue'
import { useSession } from '@/kit/state/session'
import { isPinAlone, nobodyWords, shownWords } from '@/kit/said/shown'
import PortraitImage from '@/kit/controls/PortraitImage.vue'
import StateMark from '@/kit/controls/StateMark.vue'
import { cardOf, cardQuery } from '@/kit/state/use-read'
import { verdictOf } from '@/kit/said/verdict'
import { t } from '@/words'

import RemedyList from './RemedyList.vue'

/** One read, step by step to its verdict, with what would mend it. */
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ close: [] }>()
const session = useSession()
const { data, isError } = useQuery(explanation(() => props.id))

const name = computed(() => data.value?.read.cardholder_name || data.value?.read.holder_name || '')
const holder = computed(
  () => data.value?.read.cardholder_id ?? data.value?.holder_id ?? data.value?.read.holder_id,
)
const card = computed(() => data.value && cardOf(data.value.read))
/** What was shown is somebody's, and this controller does not hold it. */
const elsewhere = computed(() => {
  const read = data.value?.read
  if (read?.reason === 'unknown_card' && read.holder_name) return t('activity.notThere', { name: name.value })
  const isAlone = read?.reason === 'pin_wrong' && isPinAlone(read)
  return isAlone && read.cardholder_name ? t('activity.pinNotThere', { name: name.value }) : ''
})

/** It was asked for: by keyboard one goes on from here. */
const why = useTemplateRef('why')
onMounted(() => why.value?.focus({ preventScroll: true }))

const answer = (passed: boolean | null) =>
  passed === null
    ? { shape: 'dash' as const, word: t('answers.notAsked') }
    : passed
      ? { shape: 'disc' as const, word: t('answers.yes') }
      : { shape: 'cross' as const, word: t('answers.no') }
</script>

<template>
  <aside ref="why" class="why" tabindex="-1" aria-labelledby="why-head">
    <div class="row">
      <h2 id="why-head">{{ t('activity.explanation') }}</h2>
      <button type="button" class="close push" :title="t('common.close')" @click="emit('close')">
        <X :size="16" aria-hidden="true" /><span class="unseen">{{ t('common.close') }}</span>
      </button>
    </div>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <template v-else-if="data">
      <div v-if="!data.read.unreadable && !data.read.happening" class="row head">
        <PortraitImage v-if="holder" class="face" :token="data.portrait" :name="name" size="page" />
        <p class="who">
          <RouterLink v-if="holder" :to="{ name: 'cardholder', params: { id: holder } }">{{
            name
          }}</RouterLink>
          <template v-else>{{ name || nobodyWords(data.read) }}</template>
        </p>
      </div>
      <p class="quiet">
        {{ data.read.reader_name }}, {{ momentWords(data.read.at) }},
        <span class="mono">{{ shownWords(data.read) }}</span>
      </p>
      <template v-if="data.read.unreadable">
        <p class="verdict denied">{{ t('activity.unreadable') }}</p>
        <h3>{{ t('activity.said') }}</h3>
        <p class="mono said">{{ data.read.unreadable }}</p>
      </template>
      <p v-else class="verdict" :class="{ denied: verdictOf(data.read).shape === 'cross' }">
        {{ verdictOf(data.read).word
        }}<template v-if="data.read.group_name"> ({{ data.read.group_name }})</template>
      </p>
      <p v-if="data.read.is_duress" class="denied duress" role="alert">{{ t('activity.duress') }}</p>
      <p v-if="data.read.is_watched">
        <StateMark shape="half" :word="t('activity.watched')" />
      </p>
      <p v-if="data.read.is_passed_back">
        <StateMark shape="half" :word="t('doing.passedBack')" />
      </p>
      <p v-if="data.read.card_status && data.read.card_status !== 'issued'">
        <StateMark
          shape="cross"
          :word="t('activity.cardIs', { status: t(`statuses.${data.read.card_status}`) })"
        />
      </p>
      <p v-if="elsewhere">{{ elsewhere }}</p>
      <p v-if="['outside_hours', 'door_closed'].includes(data.read.reason ?? '')">
        {{
          data.read.opens_at
            ? t('activity.opensNext', { when: whenWords(data.read.opens_at) })
            : t('activity.neverNext')
        }}
      </p>

      <ol v-if="data.steps.length" class="steps">
        <li v-for="step in data.steps" :key="step.check">
          <span>{{ t(`checks.${step.check}`) }}</span>
          <StateMark class="push" :shape="answer(step.passed).shape" :word="answer(step.passed).word" />
        </li>
      </ol>

      <p v-if="data.now_reason">
        {{
          data.now_reason === 'granted'
            ? t(data.not_held ? 'activity.nowOpenOnceHeld' : 'activity.nowOpen')
            : t('activity.nowShut', { reason: t(`reasons.${data.now_reason}`) })
        }}
      </p>
      <p v-if="data.not_held">
        <RouterLink :to="{ name: 'delivery', query: { controller: data.read.controller_id } }">{{
          t('activity.notHeld')
        }}</RouterLink>
      </p>
      <p v-if="data.clock_off_seconds" class="denied">
        {{ t('activity.wrongClock', { minutes: Math.round(data.clock_off_seconds / 60) }) }}
        <RouterLink :to="{ name: 'delivery', query: { controller: data.read.controller_id } }">{{
          t('activity.seeDelivery')
        }}</RouterLink>
      </p>
      <RemedyList :of="data" />
      <template v-if="!data.read.reason && !data.read.holder_id && card && session.may('issue')">
        <h3>{{ t('activity.remedy') }}</h3>
        <GiveTo :card="card" />
      </template>
      <p v-if="card">
        <RouterLink :to="{ name: 'cards', params: { part: 'life' }, query: { card: cardQuery(card) } }">
          {{ t('activity.life') }}
        </RouterLink>
      </p>
      <p v-if="data.read.raw" class="quiet raw">
        {{ t('activity.raw') }} <span class="mono">{{ data.read.raw }}</span>
        <CopyButton :text="data.read.raw" />
      </p>
    </template>
  </aside>
</template>

<style scoped>
.said {
  font-size: 12px;
  overflow-wrap: anywhere;
}
.why {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 14px 18px;
  overflow: auto;
  border-left: 1px solid var(--p-cadrin-hairline);
  background: var(--p-cadrin-sheet);
}
.close {
  display: inline-flex;
  padding: 4px;
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
}
.head {
  align-items: flex-start;
  gap: 12px;
}
.face {
  flex: none;
  width: 132px;
  height: 165px;
  font-size: 40px;
}
.who {
  overflow-wrap: anywhere;
  font-size: 20px;
  font-weight: 650;
  line-height: 1.2;
}
.verdict {
  font-weight: 650;
}
.steps {
  margin: 6px 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.steps li {
  display: flex;
  gap: 8px;
  padding: 4px 0;
  border-bottom: 1px solid var(--p-cadrin-hairline);
}
h3 {
  margin-top: 6px;
}
.raw {
  margin-top: 8px;
  font-size: 12px;
}
.why:focus {
  outline: none;
}
</style>
