<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import PortraitImage from '@/kit/controls/PortraitImage.vue'
import { useActAtDoor } from '@/sections/access/doors/act-at-door'
import type { DoorNow } from '@/sections/access/doors/doors'
import { t } from '@/words'

/** One person at a door, with the photo that Cadrin has of them. */
const props = defineProps<{
  door: number
  person: NonNullable<DoorNow['asks_in']>
  secondsLeft: number
}>()
const id = computed(() => props.person.cardholder_id)
const { data } = useQuery({
  queryKey: keyOf('cardholders', 'portrait', id),
  queryFn: ({ signal }) =>
    unwrap(client.GET('/api/cardholders/{id}/', { params: { path: { id: id.value ?? 0 } }, signal })),
  enabled: computed(() => id.value !== null),
})
const portrait = computed(() => data.value?.images?.[0])
/** What the camera at the door sees now; not shown where it has none. */
const seen = computed(() => `/api/doors/${props.door}/picture/?read=${props.person.read_id}`)
const isSeen = ref(true)
const { actAtDoor, outcome } = useActAtDoor(() => props.door)
</script>

<template>
  <section class="call" role="alertdialog" :aria-label="t('doing.asksIn', { name: person.name })">
    <figure v-if="portrait">
      <PortraitImage class="face" :token="portrait" :name="person.name" size="page" />
      <figcaption class="quiet">{{ t('doing.onRecord') }}</figcaption>
    </figure>
    <p v-else class="none quiet">{{ t('doing.noPhoto') }}</p>
    <figure v-if="isSeen">
      <img :src="seen" alt="" @error="isSeen = false" />
      <figcaption class="quiet">{{ t('doing.atTheDoor') }}</figcaption>
    </figure>
    <div>
      <p>
        <b>{{ t('doing.asksIn', { name: person.name }) }}</b>
      </p>
      <p class="quiet">{{ person.reader }}</p>
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
  width: 480px;
  padding: 12px;
  border: 1px solid var(--p-cadrin-hairline);
  border-left: 4px solid var(--p-cadrin-lit);
  border-radius: 4px;
  background: var(--p-cadrin-sheet);
}
figure {
  margin: 0;
}
.none {
  display: grid;
  place-items: center;
  width: 84px;
  height: 108px;
  padding: 6px;
  border: 1px dashed var(--p-cadrin-hairline);
  border-radius: 4px;
  font-size: 12px;
  text-align: center;
}
figcaption {
  font-size: 12px;
}
img,
.face {
  width: 84px;
  height: 108px;
  border-radius: 4px;
  object-fit: cover;
}
.row {
  margin: 8px 0 4px;
}
</style>
