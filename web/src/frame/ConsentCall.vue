<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed } from 'vue'

import { client, type Read, unwrap } from '@/api/client'
import { useActAtDoor } from '@/sections/access/doors/act-at-door'
import { imageUrl } from '@/sections/cardholders/photo/images'
import { t } from '@/words'

/** One person at a door, with the photo that Cadrin has of them. */
const props = defineProps<{ read: Read; secondsLeft: number }>()
const id = computed(() => props.read.cardholder_id)
const { data } = useQuery({
  queryKey: ['cardholders', 'portrait', id],
  queryFn: ({ signal }) =>
    unwrap(client.GET('/api/cardholders/{id}/', { params: { path: { id: id.value ?? 0 } }, signal })),
  enabled: computed(() => id.value !== null),
})
const portrait = computed(() => data.value?.images?.[0])
const { actAtDoor, outcome } = useActAtDoor(() => props.read.door_id ?? 0)
</script>

<template>
  <section class="call" role="alertdialog" :aria-label="t('doing.asksIn', { name: read.cardholder_name })">
    <img v-if="portrait" :src="imageUrl(portrait, 'page')" alt="" />
    <div>
      <p>
        <b>{{ t('doing.asksIn', { name: read.cardholder_name }) }}</b>
      </p>
      <p class="quiet">{{ read.reader_name }}</p>
      <div class="row">
        <Button size="small" :label="t('doing.letIn')" @click="actAtDoor('consent')" />
        <span class="quiet">{{ t('doing.secondsLeft', { count: secondsLeft }) }}</span>
      </div>
      <p role="status">{{ outcome }}</p>
    </div>
  </section>
</template>

<style scoped>
.call {
  display: flex;
  gap: 12px;
  width: 380px;
  padding: 12px;
  border: 1px solid var(--p-cadrin-hairline);
  border-left: 4px solid var(--p-cadrin-lit);
  border-radius: 4px;
  background: var(--p-cadrin-sheet);
}
img {
  width: 84px;
  height: 108px;
  border-radius: 4px;
  object-fit: cover;
}
.row {
  margin: 8px 0 4px;
}
</style>
