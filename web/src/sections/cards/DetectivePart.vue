<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import { computed, inject, onBeforeUnmount, onMounted, reactive } from 'vue'
import { useRoute } from 'vue-router'

import { client, type Read, Refusal, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useReads } from '@/kit/state/reads'
import TextField from '@/kit/controls/TextField.vue'
import { readUser } from '@/kit/state/use-read'
import { t } from '@/words'

import ExplanationLine from './ExplanationLine.vue'

/** Whatever number somebody has in hand, and every card that explains it. */
const reads = useReads()
const asRead = useRoute().query.raw
const clues = reactive({ raw: typeof asRead === 'string' ? asRead : '', printed: '', box: '', other: '' })
const asked = computed(() => JSON.stringify(clues))
const settled = refDebounced(asked, 200)
const isAsked = computed(() => Object.values(clues).some((one) => one.trim()))
const { data, error } = useQuery({
  queryKey: keyOf('cards', 'number', settled),
  queryFn: ({ signal }) =>
    unwrap(client.POST('/api/preview/number/', { body: JSON.parse(settled.value) as typeof clues, signal })),
  enabled: isAsked,
  placeholderData: keepPreviousData,
  retry: false,
})
const rows = computed(() => (isAsked.value && !error.value ? (data.value ?? []) : []))
const at = (field: string) =>
  isAsked.value && error.value instanceof Refusal
    ? error.value.problems.filter((one) => one.field === field)
    : []

function take(read: Read) {
  clues.raw = read.raw
}
const taker = inject(readUser)
onMounted(() => taker && (taker.value = { take, use: (read) => read && take(read), name: null }))
onBeforeUnmount(() => taker && (taker.value = null))
function clear() {
  Object.assign(clues, { raw: '', printed: '', box: '', other: '' })
}
</script>

<template>
  <div>
    <p class="quiet about">{{ t('cards.aboutNumber') }}</p>
    <form class="clues stacks-late" @submit.prevent>
      <TextField v-model="clues.printed" is-mono :label="t('cards.printed')" :problems="at('printed')" />
      <TextField v-model="clues.box" is-mono :label="t('cards.box')" :problems="at('box')" />
      <TextField v-model="clues.other" is-mono :label="t('cards.other')" :problems="at('other')" />
      <TextField
        v-model="clues.raw"
        is-mono
        :label="t('cards.raw')"
        :hint="t('cards.rawHint')"
        :problems="at('raw')"
      />
      <div class="row">
        <Button size="small" :disabled="!reads.newest" @click="reads.newest && take(reads.newest)">
          {{ t('strip.use') }} <kbd class="mono">U</kbd>
        </Button>
        <Button
          size="small"
          severity="secondary"
          variant="text"
          :label="t('cards.clear')"
          :disabled="!isAsked"
          @click="clear"
        />
      </div>
    </form>
    <p v-if="!isAsked" class="quiet">{{ t('cards.nothingAsked') }}</p>
    <p v-else-if="!rows.length && data && !error" class="quiet">{{ t('cards.nothingExplains') }}</p>
    <ol class="found" :aria-label="t('cards.explanations')">
      <ExplanationLine
        v-for="(one, place) in rows"
        :key="`${one.format} ${one.facility_code} ${one.card_number}`"
        :explained="one"
        :is-first="place === 0"
      />
    </ol>
  </div>
</template>

<style scoped>
.about {
  margin-bottom: 10px;
}
.clues {
  display: grid;
  grid-template-columns: repeat(4, minmax(140px, 240px));
  align-items: start;
  gap: 10px;
  margin-bottom: 14px;
}
.row {
  grid-column: 1 / -1;
}
kbd {
  padding: 0 5px;
  border: 1px solid currentcolor;
  border-radius: 3px;
}
</style>
