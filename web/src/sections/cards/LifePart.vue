<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, inject, onBeforeUnmount, onMounted, reactive, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, type Read, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { house } from '@/api/queries'
import { useAct } from '@/kit/state/act'
import { cardWords } from '@/kit/said/card'
import { momentWords } from '@/kit/time/clock'
import GiveTo from '@/kit/controls/GiveTo.vue'
import ReadLine from '@/kit/controls/ReadLine.vue'
import { useReads } from '@/kit/state/reads'
import SelectField from '@/kit/controls/SelectField.vue'
import { useSession } from '@/kit/state/session'
import StateMark from '@/kit/controls/StateMark.vue'
import TextField from '@/kit/controls/TextField.vue'
import { cardInQuery, cardOf, cardQuery, readUser } from '@/kit/state/use-read'
import { changesOf } from '@/sections/cardholders/changes'
import { t, wordsForAction } from '@/words'

/** A card's whole life: for one that was found, or when somebody asks whose it was. */
const route = useRoute()
const router = useRouter()
const reads = useReads()
const { data: choices } = useQuery(house)
const card = computed(() => cardInQuery(route.query.card))
const typed = reactive({ format: 0, facility_code: '', card_number: '' })
watch(
  [card, choices],
  () => {
    typed.format = card.value?.format ?? (typed.format || (choices.value?.formats[0]?.id ?? 0))
    if (card.value) {
      typed.facility_code = String(card.value.facility_code)
      typed.card_number = String(card.value.card_number)
    }
  },
  { immediate: true },
)
const { data, isFetching, isError } = useQuery({
  queryKey: keyOf('reads', 'life', card),
  queryFn: ({ signal }) => {
    const { format, facility_code, card_number } = card.value!
    return unwrap(
      client.GET('/api/cards/life/', {
        params: { query: { format_id: format, facility_code, card_number } },
        signal,
      }),
    )
  },
  enabled: computed(() => card.value !== null),
})
/** What an act changed, without which card it was of: that stands above. */
const saidOf = (entry: Parameters<typeof changesOf>[0]) =>
  changesOf({
    ...entry,
    changes: Object.fromEntries(Object.entries(entry.changes).filter(([name]) => name !== 'card')),
  })
const whose = computed(() => {
  if (data.value?.is_anothers) return t('life.anothers')
  return data.value?.status === null ? t('life.unknown') : t('life.nobodys')
})
const canBeGiven = computed(() => data.value?.can_be_issued)
const SHAPES: Record<string, 'disc' | 'bar' | 'ring' | 'cross'> = {
  issued: 'disc',
  suspended: 'bar',
  in_stock: 'ring',
  returned: 'ring',
}
const mayIssue = useSession().may('issue')
const queries = useQueryClient()
const { act, isBusy, elsewhere } = useAct()
async function putAway() {
  if (!card.value || !data.value) return
  const { format, facility_code, card_number } = card.value
  const body = { format, facility_code, card_number, is_destroyed: data.value.status !== 'destroyed' }
  await act(() => unwrap(client.POST('/api/stock/status/', { body })))
  await queries.invalidateQueries({ queryKey: keyOf('reads', 'life') })
}
function look() {
  if (!/^\d+$/.test(typed.card_number.trim())) return
  const code = Number(typed.facility_code) || 0
  void router.replace({ query: { card: `${typed.format}-${code}-${Number(typed.card_number)}` } })
}
function take(read: Read) {
  const found = cardOf(read)
  if (found) void router.replace({ query: { card: cardQuery(found) } })
}
const taker = inject(readUser)
onMounted(() => taker && (taker.value = { take, use: (read) => read && take(read), name: null }))
onBeforeUnmount(() => taker && (taker.value = null))
</script>

<template>
  <div>
    <p class="quiet about">{{ t('life.about') }}</p>
    <form class="row asked" @submit.prevent="look">
      <SelectField
        v-model="typed.format"
        class="format"
        :label="t('file.format')"
        :options="choices?.formats ?? []"
        option-label="name"
        option-value="id"
      />
      <TextField v-model="typed.facility_code" is-mono class="short" :label="t('file.facility_code')" />
      <TextField v-model="typed.card_number" is-mono class="short" :label="t('file.card_number')" />
      <Button class="next" type="submit" size="small" severity="secondary" :label="t('life.look')" />
      <Button class="next" size="small" :disabled="!reads.newest" @click="reads.newest && take(reads.newest)">
        {{ t('strip.use') }} <kbd class="mono">U</kbd>
      </Button>
    </form>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <p v-else-if="card && isFetching && !data" class="quiet">{{ t('common.loading') }}</p>
    <template v-else-if="card && data">
      <div class="row whose">
        <b class="mono">{{ cardWords({ raw: '', ...card }) }}</b>
        <StateMark
          v-if="data.status"
          :shape="SHAPES[data.status] ?? 'cross'"
          :word="t(`statuses.${data.status as 'issued'}`)"
        />
        <RouterLink
          v-if="data.holder_id"
          :to="{ name: 'cardholder', params: { id: data.holder_id }, hash: '#cards' }"
          >{{ t('life.whose', { name: data.holder_name }) }}</RouterLink
        >
        <span v-else>{{ whose }}</span>
        <span v-if="data.label" class="quiet">{{ data.label }}</span>
        <span v-if="data.use_limit" class="quiet">{{
          t('life.used', { used: data.used, limit: data.use_limit })
        }}</span>
        <span class="row push">
          <GiveTo v-if="canBeGiven" :card="card" />
          <Button
            v-if="mayIssue && data.status && !data.holder_id && !data.is_anothers"
            size="small"
            severity="secondary"
            :label="t(data.status === 'destroyed' ? 'life.backInStock' : 'life.destroy')"
            :loading="isBusy"
            @click="putAway"
          />
        </span>
      </div>
      <p class="denied" role="alert">{{ elsewhere }}</p>
      <div class="columns stacks">
        <section>
          <h2>{{ t('life.acts') }}</h2>
          <p v-if="!data.acts.length" class="quiet">{{ t('life.noActs') }}</p>
          <ol>
            <li v-for="entry in data.acts" :key="entry.id" class="act stacks-late">
              <span class="mono">{{ momentWords(entry.at) }}</span>
              <span>
                <b>{{ wordsForAction(entry.action) }}</b>{{ ' ' }}
                <template v-for="topic in entry.topics" :key="`${topic.kind} ${topic.id}`">
                  <RouterLink
                    v-if="topic.kind === 'cardholder' && topic.name"
                    :to="{ name: 'cardholder', params: { id: topic.id } }"
                    >{{ topic.name }}</RouterLink
                  >
                </template>
                <span class="quiet said">{{ [entry.operator_name, ...saidOf(entry)].join('; ') }}</span>
              </span>
            </li>
          </ol>
        </section>
        <section>
          <h2>{{ t('life.boxes') }}</h2>
          <p v-for="box in data.boxes" :key="box.id">
            <span class="mono">{{ box.first }}–{{ box.last }}</span>
            <span class="quiet about-box">{{
              [box.kept_where, box.remarks].filter(Boolean).join(', ')
            }}</span>
          </p>
          <p v-if="!data.boxes.length" class="quiet">–</p>
          <h2>{{ t('life.reads') }}</h2>
          <p v-if="!data.reads.length" class="quiet">{{ t('life.noReads') }}</p>
          <ul>
            <ReadLine v-for="read in data.reads" :key="read.id" :read="read" />
          </ul>
        </section>
      </div>
    </template>
  </div>
</template>

<style scoped>
.about {
  margin-bottom: 10px;
}
.asked {
  align-items: flex-start;
  margin-bottom: 14px;
}
.format {
  width: 130px;
}
.short {
  width: 110px;
}
.next {
  margin-top: 18px;
}
.whose {
  gap: 14px;
  padding: 8px;
  background: var(--p-cadrin-teal-paper);
}
.columns {
  display: grid;
  grid-template-columns: 1.2fr 1fr;
  gap: 28px;
  margin-top: 14px;
}
.act {
  display: grid;
  grid-template-columns: 150px 1fr;
  gap: 10px;
  padding: 5px 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.said {
  display: block;
  font-size: 13px;
}
.about-box {
  margin-left: 12px;
}
section h2 {
  margin: 8px 0 4px;
}
kbd {
  padding: 0 5px;
  border: 1px solid currentcolor;
  border-radius: 3px;
}
</style>
