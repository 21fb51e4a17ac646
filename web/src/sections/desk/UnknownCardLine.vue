<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Popover from 'primevue/popover'
import { ref, useTemplateRef } from 'vue'

import { client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import { useAct } from '@/kit/act'
import { cardWords } from '@/kit/card'
import { whenWords } from '@/kit/clock'
import GiveTo from '@/kit/GiveTo.vue'
import { useSession } from '@/kit/session'
import { newCardholder } from '@/kit/use-read'
import { t } from '@/words'

/** A card of nobody that was shown: given to somebody, or put aside. */
const props = defineProps<{ card: components['schemas']['UnknownCard']; isAside?: boolean }>()
const session = useSession()
const queries = useQueryClient()
const { act, isBusy } = useAct()
const giving = useTemplateRef('giving')
const isAsideNow = ref(props.isAside)

async function put(aside: boolean) {
  const params = { params: { path: { id: props.card.read_id } } }
  const done = await act(async () => {
    if (aside) await unwrap(client.POST('/api/reads/{id}/aside/', params))
    else await unwrap(client.DELETE('/api/reads/{id}/aside/', params))
    return true
  })
  if (!done) return
  // the line stays where it is, to be brought back; only the counts move on
  isAsideNow.value = aside
  await queries.invalidateQueries({ queryKey: ['waiting'] })
}
const numbers = {
  format: props.card.format_id,
  facility_code: props.card.facility_code,
  card_number: props.card.card_number,
}
</script>

<template>
  <li>
    <span class="mono card" :title="card.format_name">{{ cardWords(card) }}</span>
    <span v-if="isAsideNow && !isAside" class="quiet">{{ t('desk.isAside') }}</span>
    <span
      v-else
      class="quiet one-line"
      :title="`${card.reader_name}, ${whenWords(card.at)}, ${t('desk.times', card.times)}`"
    >
      {{ card.reader_name }}, {{ whenWords(card.at) }}, {{ t('desk.times', card.times) }}
    </span>
    <span class="push acts">
      <template v-if="!isAsideNow">
        <RouterLink v-if="session.may('enrol')" :to="newCardholder(card)">
          {{ t('desk.enrolWith') }}
          <span class="unseen">: {{ cardWords(card) }}</span>
        </RouterLink>
        <button v-if="session.may('issue')" type="button" class="link" @click="giving?.toggle($event)">
          {{ t('desk.give') }}<span class="unseen">: {{ cardWords(card) }}</span>
        </button>
      </template>
      <button
        v-if="session.may('issue')"
        type="button"
        class="link"
        :disabled="isBusy"
        @click="put(!isAsideNow)"
      >
        {{ t(isAsideNow ? 'desk.bringBack' : 'desk.aside')
        }}<span class="unseen">: {{ cardWords(card) }}</span>
      </button>
    </span>
    <Popover ref="giving" :aria-label="t('desk.give')">
      <GiveTo :card="numbers" />
    </Popover>
  </li>
</template>

<style scoped>
.card {
  flex: none;
}
.acts {
  display: flex;
  flex: none;
  gap: 10px;
}
</style>
