<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { type ImageSize, imageUrl } from './images'

/** Somebody's portrait; their initials where there is none, or where its file is gone. */
const props = defineProps<{ token: string | null | undefined; name: string; size: ImageSize }>()
const isGone = ref(false)
watch(
  () => props.token,
  () => (isGone.value = false),
)
const initials = computed(() => {
  const parts = props.name.trim().split(/\s+/)
  const letters = parts.length > 1 ? [parts[0], parts.at(-1)] : parts
  return letters.map((part) => [...(part ?? '')][0] ?? '').join('')
})
</script>

<template>
  <img
    v-if="token && !isGone"
    class="portrait"
    :src="imageUrl(token, size)"
    alt=""
    loading="lazy"
    @error="isGone = true"
  />
  <span v-else class="portrait" aria-hidden="true">{{ initials || '·' }}</span>
</template>

<style scoped>
.portrait {
  display: grid;
  place-items: center;
  object-fit: cover;
  border-radius: 4px;
  background: var(--p-cadrin-night);
  color: var(--p-cadrin-lit);
  overflow: hidden;
}
</style>
