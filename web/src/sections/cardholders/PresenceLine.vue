<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useAct } from '@/kit/state/act'
import { whenWords } from '@/kit/time/clock'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

/** Where doors think that somebody is, and forgiving it. */
const props = defineProps<{ cardholderId: number }>()
const queries = useQueryClient()
const mayForgive = useSession().may('access')
const path = () => ({ params: { path: { id: props.cardholderId } } })
const { data } = useQuery({
  queryKey: keyOf('reads', 'presence', props.cardholderId),
  queryFn: ({ signal }) => unwrap(client.GET('/api/cardholders/{id}/presence/', { ...path(), signal })),
})
const { act, isBusy } = useAct()
async function forgive() {
  await act(() => unwrap(client.DELETE('/api/cardholders/{id}/presence/', path())))
  await queries.invalidateQueries({ queryKey: keyOf('reads', 'presence') })
}
</script>

<template>
  <p v-if="data?.since" class="presence">
    {{
      data.area
        ? t('doing.isInside', { area: data.area, when: whenWords(data.since) })
        : t('doing.isOutside', { when: whenWords(data.since) })
    }}
    <button v-if="mayForgive" type="button" class="link" :disabled="isBusy" @click="forgive">
      {{ t('doing.forgive') }}
    </button>
  </p>
</template>

<style scoped>
.presence {
  margin-top: 6px;
}
</style>
