<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref, watch } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'
import { useAct } from '@/kit/state/act'
import { cardWords } from '@/kit/said/card'
import { whenWords } from '@/kit/time/clock'
import GiveTo from '@/kit/controls/GiveTo.vue'
import { useSession } from '@/kit/state/session'
import { newCardholder } from '@/kit/state/use-read'
import { t } from '@/words'

/** A card of nobody that was shown: given to somebody, or put aside. */
const props = defineProps<{ card: components['schemas']['UnknownCard']; isAside?: boolean }>()
const emit = defineEmits<{ moved: [] }>()
const session = useSession()
const queries = useQueryClient()
const { act, isBusy } = useAct()
const isGiving = ref(false)
const isAsideNow = ref(props.isAside)
// shown again, it waits again
watch(
  () => props.card.read_id,
  () => (isAsideNow.value = props.isAside),
)

async function put(aside: boolean) {
  const params = { params: { path: { id: props.card.read_id } } }
  const done = await act(async () => {
    if (aside) await unwrap(client.POST('/api/reads/{id}/aside/', params))
    else await unwrap(client.DELETE('/api/reads/{id}/aside/', params))
    return true
  })
  if (!done) return
  isAsideNow.value = aside
  emit('moved')
  await queries.invalidateQueries({ queryKey: keyOf('waiting') })
}
const numbers = {
  format: props.card.format_id,
  facility_code: props.card.facility_code,
  card_number: props.card.card_number,
}
</script>

<template>
  <li class="line">
    <span class="mono card" :title="card.format_name">{{ cardWords(card) }}</span>
    <span v-if="isAsideNow && !isAside" class="quiet">{{ t('desk.isAside') }}</span>
    <span
      v-else
      class="quiet two-lines"
      :title="`${card.reader_name}, ${whenWords(card.at)}, ${t('desk.times', card.times)}`"
    >
      {{ card.reader_name }}, {{ whenWords(card.at) }}, {{ t('desk.times', card.times) }}
    </span>
    <span class="push acts">
      <template v-if="!isAsideNow">
        <RouterLink v-if="session.may('enrol')" :to="newCardholder(card)">
          {{ t('desk.enrolShort') }}
          <span class="unseen">: {{ cardWords(card) }}</span>
        </RouterLink>
        <button
          v-if="session.may('issue')"
          type="button"
          class="link"
          :aria-expanded="isGiving"
          @click="isGiving = !isGiving"
        >
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
    <GiveTo v-if="isGiving && !isAsideNow" class="giving" :card="numbers" is-asked-for />
  </li>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 10px;
  min-height: 31px;
  border-bottom: 1px solid var(--p-cadrin-hairline);
}
.line > .two-lines {
  flex: 1;
}
.giving {
  width: 100%;
  padding-bottom: 6px;
}
.card {
  flex: none;
}
.two-lines {
  display: -webkit-box;
  overflow: hidden;
  line-height: 1.25;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
}
.acts {
  display: flex;
  flex: none;
  gap: 10px;
}
</style>
