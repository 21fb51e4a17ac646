<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import ReadLine from '@/kit/controls/ReadLine.vue'
import { t } from '@/words'

/** What happened at the doors of an emergency, oldest first. */
const props = defineProps<{ id: number; isLive?: boolean }>()
const ASKED_EVERY_MS = 3000
const { data, isError } = useQuery({
  queryKey: keyOf('doors', 'report', props.id),
  queryFn: ({ signal }) =>
    unwrap(client.GET('/api/releases/{id}/', { params: { path: { id: props.id } }, signal })),
  refetchInterval: props.isLive ? ASKED_EVERY_MS : false,
})
</script>

<template>
  <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
  <p v-else-if="data && !data.reads.length" class="quiet">{{ t('doing.nothingHappened') }}</p>
  <ul v-else-if="data">
    <ReadLine v-for="read in data.reads" :key="read.id" :read="read" is-with-who />
  </ul>
</template>
