<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { useToast } from 'primevue/usetoast'
import { computed } from 'vue'

import { client, Refusal, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { letters } from '@/api/queries'
import { whenWords } from '@/kit/time/clock'
import StateMark from '@/kit/controls/StateMark.vue'
import { useSession } from '@/kit/state/session'
import { t, wordsFor } from '@/words'

/** PINs that were put into the mail, as far as they are; one that does not get away is replaced by another. */
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ shown: [pin: { label: string; digits: string }] }>()

const session = useSession()
const queries = useQueryClient()
const toast = useToast()
const { data } = useQuery(letters(() => props.id))
/** Those that wait, and what became of the latest. */
const rows = computed(() => (data.value ?? []).filter((one, place) => one.state === 'waiting' || place === 0))
const shapes = { waiting: 'ring', sent: 'disc', cancelled: 'dash' } as const

const cancel = useMutation({
  mutationFn: (letter: number) =>
    unwrap(
      client.POST('/api/cardholders/{id}/letters/{letter}/cancel/', {
        params: { path: { id: props.id, letter } },
      }),
    ),
  onSuccess: (pin) => emit('shown', pin),
  onError: (error) =>
    toast.add({
      severity: 'warn',
      summary: error instanceof Refusal ? error.problems.map(wordsFor).join(' ') : t('common.failed'),
      life: 6000,
    }),
  onSettled: () => queries.invalidateQueries({ queryKey: keyOf('cardholders') }),
})
</script>

<template>
  <div v-if="rows.length" class="letters">
    <h3>{{ t('pins.letters') }}</h3>
    <ul>
      <li v-for="one in rows" :key="one.id" class="row">
        <StateMark
          :shape="shapes[one.state]"
          :word="t(`pins.letterStates.${one.state}`, { when: whenWords(one.ended_at ?? one.made_at) })"
        />
        <span class="quiet">{{ t(`pins.letterAbout.${one.about}`) }}</span>
        <span v-if="one.label" class="quiet">{{ one.label }}</span>
        <span v-if="one.failure" class="denied">
          {{ t('pins.letterFailed', { count: one.tries, why: t(`pins.letterFailures.${one.failure}`) }) }}
        </span>
        <Button
          v-if="one.can_be_cancelled && session.may('issue')"
          class="push"
          size="small"
          severity="secondary"
          :label="t('pins.cancelLetter')"
          :loading="cancel.isPending.value"
          @click="cancel.mutate(one.id)"
        />
      </li>
    </ul>
  </div>
</template>

<style scoped>
.letters {
  margin-top: 8px;
}
h3 {
  font-size: 12px;
  color: var(--p-cadrin-quiet);
}
</style>
