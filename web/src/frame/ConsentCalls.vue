<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useNow } from '@vueuse/core'
import { computed } from 'vue'

import type { Read } from '@/api/client'
import { useReads } from '@/kit/reads'
import { useSession } from '@/kit/session'
import { doorsNow } from '@/sections/access/doors/doors'

import ConsentCall from './ConsentCall.vue'

/** Whoever stands at a door and asks to be let in, while there is time to do so. */
const reads = useReads()
const mayAct = useSession().may('doors')
const now = useNow({ interval: 500 })

const isLatestAtItsDoor = (read: Read) => reads.reads.find((one) => one.door_id === read.door_id) === read
const asking = computed(() =>
  mayAct ? reads.reads.filter((one) => one.reason === 'consent_awaited' && isLatestAtItsDoor(one)) : [],
)
const { data: doors } = useQuery({ ...doorsNow, enabled: computed(() => asking.value.length > 0) })
const calls = computed(() =>
  asking.value.flatMap((read) => {
    const seconds = doors.value?.find((one) => one.id === read.door_id)?.consent_seconds
    if (!seconds) return []
    // by the clock of its controller, which may be off
    const at = Date.parse(read.at) - (read.clock_off_seconds ?? 0) * 1000
    const left = Math.ceil((at + seconds * 1000 - now.value.getTime()) / 1000)
    return left > 0 ? [{ read, left }] : []
  }),
)
</script>

<template>
  <div class="calls" aria-live="assertive">
    <ConsentCall v-for="call in calls" :key="call.read.id" :read="call.read" :seconds-left="call.left" />
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
