<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useNow } from '@vueuse/core'
import { computed } from 'vue'

import { useReads } from '@/kit/state/reads'
import { useSession } from '@/kit/state/session'
import { doorsNow } from '@/sections/access/doors/doors'

import ConsentCall from './ConsentCall.vue'

/** Whoever stands at a door and asks to be let in, while there is time to do so. */
const reads = useReads()
const mayAct = useSession().may('doors')
const now = useNow({ interval: 500 })

/** Doors are looked at only while somebody asked lately. */
const hasBeenAsked = computed(() => mayAct && reads.reads.some((one) => one.reason === 'consent_awaited'))
const { data: doors } = useQuery({ ...doorsNow, enabled: hasBeenAsked })
const calls = computed(() =>
  (doors.value ?? []).flatMap(({ id, asks_in }) => {
    const left = asks_in ? Math.ceil((Date.parse(asks_in.until) - now.value.getTime()) / 1000) : 0
    return asks_in && left > 0 ? [{ door: id, person: asks_in, left }] : []
  }),
)
</script>

<template>
  <div class="calls" aria-live="assertive">
    <ConsentCall
      v-for="call in calls"
      :key="call.person.read_id"
      :door="call.door"
      :person="call.person"
      :seconds-left="call.left"
    />
  </div>
</template>

<style scoped>
.calls {
  position: fixed;
  right: 16px;
  bottom: 56px;
  z-index: 20;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
</style>
