<script setup lang="ts">
import { computed } from 'vue'

import type { House, Problem } from '@/api/client'
import { t } from '@/words'

import PhotoSlot from './PhotoSlot.vue'

/** The portrait, and the other images that the site has named. */
const props = defineProps<{ choices: House; problems: Problem[] }>()
const images = defineModel<(string | null)[]>({ required: true })

const slots = computed(() => [
  { slot: 0, name: t('photos.portrait'), isPortrait: true },
  ...[1, 2]
    .map((slot) => ({ slot, name: props.choices.image_names[slot - 1] ?? '', isPortrait: false }))
    .filter((one) => one.name || images.value[one.slot]),
])
const at = (slot: number) => props.problems.filter((one) => one.field === `${slot}`)

function set(slot: number, token: string | null) {
  images.value = [0, 1, 2].map((one) => (one === slot ? token : (images.value[one] ?? null)))
}
</script>

<template>
  <section id="photo" class="part" aria-labelledby="photo-head">
    <h2 id="photo-head">{{ t('photos.title') }}</h2>
    <div class="slots">
      <PhotoSlot
        v-for="one in slots"
        :key="one.slot"
        :token="images[one.slot] ?? null"
        :name="one.name || t('photos.unnamed')"
        :is-portrait="one.isPortrait"
        :problems="at(one.slot)"
        @set="set(one.slot, $event)"
      />
    </div>
  </section>
</template>

<style scoped>
.part {
  margin-top: 14px;
  padding-top: 12px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.slots {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 24px;
  margin-top: 6px;
}
</style>
