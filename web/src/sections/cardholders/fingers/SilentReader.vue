<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import type { House } from '@/api/client'
import { controllers } from '@/api/queries'
import { whenWords } from '@/kit/time/clock'
import { t } from '@/words'

/** A reader at the desk that went away while something is taken at it. */
const props = defineProps<{ reader: House['readers'][number] }>()
const { data } = useQuery(controllers)
const since = computed(
  () => data.value?.find((one) => one.id === props.reader.controller_id)?.failed_at ?? null,
)
</script>

<template>
  <p v-if="since" class="denied" role="alert">
    {{ t('fingers.silent', { reader: reader.name, when: whenWords(since) }) }}
  </p>
</template>
