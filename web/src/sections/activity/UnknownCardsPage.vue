<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useRouteQuery } from '@vueuse/router'
import SelectButton from 'primevue/selectbutton'
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { cardWords } from '@/kit/said/card'
import { momentWords } from '@/kit/time/clock'
import TableExport from '@/kit/controls/TableExport.vue'
import UnknownCards from '@/sections/desk/UnknownCards.vue'
import { t } from '@/words'

import ActivityParts from './ActivityParts.vue'

/** Every card of nobody that was shown lately. */
const which = useRouteQuery<'waiting' | 'aside'>('which', 'waiting')
const isAside = computed(() => which.value === 'aside')
const choices = [
  { value: 'waiting', word: t('activity.waiting') },
  { value: 'aside', word: t('activity.aside') },
]
const { data, isPending, isError } = useQuery({
  queryKey: keyOf('reads', 'unknown', isAside),
  queryFn: ({ signal }) =>
    unwrap(client.GET('/api/unknown-cards/', { params: { query: { aside: isAside.value } }, signal })),
})
const headings = [t('activity.card'), t('activity.door'), t('activity.time'), t('activity.count')]
const rows = () =>
  (data.value?.rows ?? []).map((one) => [
    cardWords(one),
    one.reader_name,
    momentWords(one.at),
    String(one.times),
  ])
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1>{{ t('activity.unknownCards') }}</h1>
      <ActivityParts />
      <SelectButton
        v-model="which"
        class="push"
        :options="choices"
        option-label="word"
        option-value="value"
        size="small"
        :allow-empty="false"
        :aria-label="t('activity.unknownCards')"
      />
      <TableExport :name="t('activity.unknownCards')" :headings="headings" :rows="rows" />
    </div>
    <p class="quiet about">{{ t('activity.aboutUnknown') }}</p>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <p v-else-if="isPending" class="quiet">{{ t('common.loading') }}</p>
    <p v-else-if="!data?.rows.length" class="quiet">
      {{ t(isAside ? 'activity.asideNone' : 'desk.unknownNone') }}
    </p>
    <ul v-if="data" class="cards">
      <UnknownCards :key="which" :cards="data.rows" :is-aside="isAside" />
    </ul>
  </div>
</template>

<style scoped>
.about {
  max-width: 720px;
  margin-bottom: 10px;
}
.cards {
  max-width: 720px;
}
</style>
