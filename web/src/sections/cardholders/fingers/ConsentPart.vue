<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { client, type Problem, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { endWords, whenWords } from '@/kit/time/clock'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { useSave } from '@/kit/state/save'
import { useSession } from '@/kit/state/session'
import StateMark from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

import ConsentDialog from './ConsentDialog.vue'
import type { Consent, NewConsent, Taken } from './fingers'

/** The consents of a cardholder, and taking or withdrawing one. */
const props = defineProps<{
  id: number | null
  consents: Consent[]
  offered: readonly Taken[]
  problems: Problem[]
}>()
const given = defineModel<NewConsent | null | undefined>({ required: true })
const emit = defineEmits<{ changed: [] }>()

const MOST_OVER = 2
const session = useSession()
const may = session.may('biometrics')
const queries = useQueryClient()
const { act, isBusy, elsewhere } = useSave()
const isAsking = ref(false)
const withdrawing = ref<Consent>()
const current = computed(() => props.consents.filter((one) => one.is_in_force))
const over = computed(() => props.consents.filter((one) => !one.is_in_force).slice(0, MOST_OVER))
const isCovered = (factor: Taken) => current.value.some((one) => one.factors.includes(factor))

/** What no consent covers yet. */
const missing = computed(() =>
  props.offered.filter((factor) => !isCovered(factor) && !given.value?.factors.includes(factor)),
)
const factorWords = (factors: readonly Taken[]) =>
  factors.map((factor) => t(`consents.factors.${factor}`)).join(', ')

const givenWords = (consent: Consent) =>
  t('consents.inForce', {
    when: whenWords(consent.given_at),
    how: t(`consents.hows.${consent.how}`),
    name: consent.taken_by,
  }) + `, ${t('consents.version', { version: consent.wording_version })}`
const stillWords = (consent: Consent) =>
  consent.gone_at
    ? t('consents.gone', { when: whenWords(consent.gone_at) })
    : t(consent.factors.some(isCovered) ? 'consents.replaced' : 'consents.notGone')
const overWords = (consent: Consent) =>
  [
    consent.withdrawn_at
      ? t('consents.withdrawn', { when: whenWords(consent.withdrawn_at) })
      : t('consents.over', { when: endWords(consent.expiry_at ?? '') }),
    stillWords(consent),
  ].join('; ')

async function withdraw() {
  const consent = withdrawing.value
  if (!consent || props.id === null) return
  const path = { id: props.id, consent: consent.id }
  const isDone = await act(async () => {
    await unwrap(client.POST('/api/cardholders/{id}/consents/{consent}/withdraw/', { params: { path } }))
    return true
  })
  if (!isDone) return
  withdrawing.value = undefined
  await queries.invalidateQueries({ queryKey: keyOf('cardholders', 'biometrics') })
  emit('changed')
}
</script>

<template>
  <div class="consents">
    <p v-for="consent in current" :key="consent.id" class="row">
      <StateMark shape="disc" :word="factorWords(consent.factors)" />
      <span :title="consent.wording">
        {{ givenWords(consent)
        }}<template v-if="consent.expiry_at"
          >, {{ t('consents.ends', { when: endWords(consent.expiry_at) }) }}</template
        >
      </span>
      <a
        v-if="consent.has_proof && may"
        :href="`/api/cardholders/${id}/consents/${consent.id}/proof/`"
        target="_blank"
        rel="noopener"
        >{{ t('consents.proof') }}</a
      >
      <Button
        v-if="may"
        size="small"
        severity="secondary"
        variant="text"
        :label="t('consents.withdraw')"
        @click="withdrawing = consent"
      />
    </p>
    <p v-if="given" class="row">
      <StateMark shape="half" :word="t('consents.title')" />
      <span>
        <b>{{ factorWords(given.factors) }}</b>:
        {{ t('consents.new', { how: t(`consents.hows.${given.how}`) }) }}
      </span>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('consents.drop')"
        @click="given = null"
      />
    </p>
    <p v-if="missing.length && !given" class="row">
      <StateMark shape="ring" :word="factorWords(missing)" />
      <span>{{ t('consents.none') }} </span>
      <Button v-if="may" size="small" data-first :label="t('consents.take')" @click="isAsking = true" />
    </p>
    <p v-for="consent in over" :key="consent.id" class="row quiet">
      <StateMark shape="dash" :word="factorWords(consent.factors)" />
      <span>{{ overWords(consent) }}</span>
    </p>
    <div v-if="withdrawing" class="ask" role="alertdialog" :aria-label="t('consents.withdraw')">
      <p>{{ t('consents.withdrawAsk') }}</p>
      <div class="row">
        <Button size="small" :label="t('consents.withdraw')" :loading="isBusy" @click="withdraw" />
        <Button
          size="small"
          severity="secondary"
          variant="text"
          :label="t('common.cancel')"
          @click="withdrawing = undefined"
        />
        <span class="denied">{{ elsewhere }}</span>
      </div>
    </div>
    <FieldProblem id="consent-problem" :problems="problems" />
    <ConsentDialog
      v-if="isAsking"
      :id="id"
      :offered="missing"
      @given="((given = $event), (isAsking = false))"
      @close="isAsking = false"
    />
  </div>
</template>

<style scoped>
.consents {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
.consents > .row {
  align-items: baseline;
}
.consents > .row > :first-child,
.consents > .row > a {
  flex: none;
}
.consents > .row > :nth-child(2) {
  flex: 1;
  min-width: 0;
}
.ask {
  padding: 6px 10px;
  border-left: 3px solid var(--p-cadrin-lit);
  background: var(--p-cadrin-amber-paper);
}
</style>
