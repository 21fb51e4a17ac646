<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed } from 'vue'
import { useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { desk, drafts as keptDrafts } from '@/api/queries'
import { useSession } from '@/kit/state/session'
import { endWords, whenWords } from '@/kit/time/clock'
import { shapeOfState } from '@/kit/controls/marks'
import StateMark from '@/kit/controls/StateMark.vue'
import { newCardholder } from '@/kit/state/use-read'
import { aboutReview, reviewAddress } from '@/sections/access/reviews/reviews'
import { t } from '@/words'

import { mendLink, trouble } from './links'
import UnknownCards from './UnknownCards.vue'
import WorkList from './WorkList.vue'

const router = useRouter()
const session = useSession()
const mayEnrol = session.may('enrol')
const { data, isError, refetch } = useQuery(desk)
const { data: kept } = useQuery(keptDrafts)
const { data: lists } = useQuery({
  queryKey: keyOf('intakes', 'all'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/intakes/', { signal })),
  enabled: mayEnrol,
})
const OVER = ['applied', 'undone', 'discarded']
const unfinished = computed(() => lists.value?.filter((one) => !OVER.includes(one.state)) ?? [])
const drafts = computed(() => kept.value ?? [])
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1>{{ t('desk.title') }}</h1>
      <Button v-if="mayEnrol" size="small" class="push" @click="router.push(newCardholder())">
        {{ t('desk.new') }} <kbd class="mono">N</kbd>
      </Button>
    </div>
    <p v-if="isError" class="denied">
      {{ t('common.failed') }} <Button size="small" :label="t('common.again')" @click="refetch()" />
    </p>
    <p v-else-if="!data" class="quiet">{{ t('common.loading') }}</p>
    <div v-else class="lists">
      <WorkList v-if="data.alarms.total" :title="t('desk.alarms')" :total="data.alarms.total" empty="">
        <li v-for="read in data.alarms.rows" :key="read.id">
          <b class="denied">{{ read.reader_name }}</b>
          <span class="one-line"
            >{{ read.happening ? t(`doing.happenings.${read.happening}`) : read.cardholder_name }},
            {{ whenWords(read.at) }}</span
          >
          <RouterLink class="push act" :to="{ name: 'activity', query: { read: read.id } }">
            {{ t('common.open') }}<span class="unseen">: {{ read.reader_name }}</span>
          </RouterLink>
        </li>
      </WorkList>

      <WorkList
        :title="t('desk.notReady')"
        :total="data.not_ready.total"
        :empty="t('desk.notReadyNone')"
        :all="{ name: 'cardholders', query: { not_ready: 'true' } }"
      >
        <li v-for="row in data.not_ready.rows" :key="row.id">
          <RouterLink :to="{ name: 'cardholder', params: { id: row.id } }" class="who">
            <StateMark :shape="shapeOfState[row.state]" :word="t(`states.${row.state}`)" is-word-hidden />
            <span class="one-line">{{ row.display_name }}</span>
          </RouterLink>
          <span class="quiet two-lines" :title="row.gaps.map((gap) => t(`gaps.${gap}`)).join(', ')">{{
            row.gaps.map((gap) => t(`gaps.${gap}`)).join(', ')
          }}</span>
          <RouterLink class="push act" :to="mendLink(row)">
            {{ t(`mends.${row.gaps[0] ?? 'no_card'}`) }}<span class="unseen">: {{ row.display_name }}</span>
          </RouterLink>
        </li>
      </WorkList>

      <WorkList
        :title="t('desk.unknown')"
        :total="data.unknown_cards.total"
        :empty="t('desk.unknownNone')"
        :all="{ name: 'unknown-cards' }"
      >
        <UnknownCards :cards="data.unknown_cards.rows" />
      </WorkList>

      <WorkList
        :title="t('desk.deliveries')"
        :total="data.deliveries.total + (data.worker_stopped_at ? 1 : 0)"
        :empty="t('desk.deliveriesNone')"
      >
        <li v-if="data.worker_stopped_at">
          <b>{{ t('desk.worker') }}</b>
          <span class="one-line denied">
            {{ t('desk.workerStopped', { when: whenWords(data.worker_stopped_at) }) }}
          </span>
        </li>
        <li v-for="one in data.deliveries.rows" :key="one.id">
          <b class="name">{{ one.name }}</b>
          <span class="two-lines" :class="one.failed_at ? 'denied' : 'quiet'" :title="trouble(one)">{{
            trouble(one)
          }}</span>
          <RouterLink class="push act" :to="{ name: 'delivery', query: { controller: one.id } }">
            {{ t('common.open') }}<span class="unseen">: {{ one.name }}</span>
          </RouterLink>
        </li>
      </WorkList>

      <WorkList v-if="data.reviews.total" :title="t('reviews.overdue')" :total="data.reviews.total" empty="">
        <li v-for="one in data.reviews.rows" :key="`${one.kind} ${one.id}`">
          <b class="name">{{ one.name }}</b>
          <span class="quiet one-line">{{ aboutReview(one) }}</span>
          <RouterLink
            class="push act"
            :to="{ name: 'access', params: { part: 'reviews', id: reviewAddress(one) } }"
          >
            {{ t('common.open') }}<span class="unseen">: {{ one.name }}</span>
          </RouterLink>
        </li>
      </WorkList>

      <WorkList
        :title="t('desk.starting')"
        :total="data.starting_soon.total"
        :empty="t('desk.startingNone')"
        :all="{ name: 'cardholders', query: { starting_within_days: 14 } }"
      >
        <li v-for="row in data.starting_soon.rows" :key="row.id">
          <RouterLink :to="{ name: 'cardholder', params: { id: row.id } }" class="who">
            <span class="one-line">{{ row.display_name }}</span>
          </RouterLink>
          <span v-if="row.until" class="quiet one-line">{{
            t('desk.starts', { when: whenWords(row.until) })
          }}</span>
          <StateMark
            class="push"
            :shape="row.gaps.length ? 'ring' : 'disc'"
            :word="row.gaps.length ? row.gaps.map((gap) => t(`gaps.${gap}`)).join(', ') : t('list.readyYes')"
          />
        </li>
      </WorkList>

      <WorkList
        :title="t('desk.ending')"
        :total="data.ending_soon.total"
        :empty="t('desk.endingNone')"
        :all="{ name: 'cardholders', query: { ending_within_days: 14 } }"
      >
        <li v-for="row in data.ending_soon.rows" :key="row.id">
          <RouterLink :to="{ name: 'cardholder', params: { id: row.id } }" class="who">
            <span class="one-line">{{ row.display_name }}</span>
          </RouterLink>
          <span v-if="row.expiry_at" class="quiet one-line">
            {{ t('desk.ends', { when: endWords(row.expiry_at) }) }}
          </span>
          <RouterLink
            class="push act"
            :to="{ name: 'cardholder', params: { id: row.id }, hash: '#validity' }"
          >
            {{ t('mends.expired') }}<span class="unseen">: {{ row.display_name }}</span>
          </RouterLink>
        </li>
      </WorkList>

      <WorkList
        v-if="unfinished.length"
        :title="t('intake.onDesk')"
        :total="unfinished.length"
        empty=""
        :all="{ name: 'intakes' }"
      >
        <li v-for="one in unfinished.slice(0, 8)" :key="one.id">
          <RouterLink class="who" :to="{ name: 'intake', params: { id: one.id } }">
            <span class="one-line">{{ one.name }}</span>
          </RouterLink>
          <span class="quiet one-line">{{ one.by }}, {{ whenWords(one.at) }}</span>
          <span v-if="one.faulty" class="push denied">{{
            t('intake.faultyRows', { count: one.faulty }, one.faulty)
          }}</span>
        </li>
      </WorkList>

      <WorkList v-if="drafts.length" :title="t('desk.drafts')" :total="drafts.length" empty="">
        <li v-for="one in drafts" :key="one.cardholder ?? one.key">
          <RouterLink
            class="who"
            :to="
              one.cardholder
                ? { name: 'cardholder', params: { id: one.cardholder } }
                : { name: 'new-cardholder', query: { start: one.key } }
            "
          >
            {{ one.name || t('desk.newDraft') }}
          </RouterLink>
          <span class="quiet">{{ t('desk.draftOf', { when: whenWords(one.typed_at) }) }}</span>
        </li>
      </WorkList>
    </div>
  </div>
</template>

<style scoped>
.lists {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(430px, 100%), 1fr));
  gap: 22px 32px;
}
kbd {
  padding: 0 5px;
  border: 1px solid currentcolor;
  border-radius: 3px;
}
.who {
  display: flex;
  align-items: center;
  gap: 8px;
  min-width: 0;
  flex: none;
  max-width: 190px;
  color: inherit;
  font-weight: 600;
  text-decoration: none;
}
.who:hover {
  text-decoration: underline;
}
.act,
.name {
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
</style>
