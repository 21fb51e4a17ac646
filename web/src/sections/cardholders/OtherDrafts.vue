<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { drafts } from '@/api/queries'
import { whenWords } from '@/kit/time/clock'
import { t } from '@/words'

/** Others who were begun and not saved: one goes on with one of them, or types somebody new beside them. */
const props = defineProps<{ but: string }>()
const SHOWN = 3

const { data } = useQuery(drafts)
const others = computed(() =>
  (data.value ?? []).filter((one) => one.cardholder === null && one.key !== props.but),
)
</script>

<template>
  <div v-if="others.length" class="notice" role="status">
    <p>
      {{ t('file.begun') }}
      <template v-for="(one, place) in others.slice(0, SHOWN)" :key="one.key">
        <template v-if="place">, </template>
        <RouterLink :to="{ name: 'new-cardholder', query: { start: one.key } }">{{
          t('file.begunAt', { name: one.name || t('desk.newDraft'), when: whenWords(one.typed_at) })
        }}</RouterLink>
      </template>
      <template v-if="others.length > SHOWN"
        >, <RouterLink :to="{ name: 'desk' }">{{ t('desk.all', { count: others.length }) }}</RouterLink>
      </template>
    </p>
  </div>
</template>
