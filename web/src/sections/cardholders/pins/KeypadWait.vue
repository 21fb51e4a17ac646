<script setup lang="ts">
import Button from 'primevue/button'
import { onBeforeUnmount, onMounted, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { t } from '@/words'

/** The cardholder chooses a PIN at the desk's keypad, typing it twice; nobody sees the digits. */
const props = defineProps<{ reader: { id: number; name: string } }>()
const emit = defineEmits<{ chosen: [token: string]; cancel: [] }>()

const EVERY_MS = 600
const LONGEST_MS = 90_000
/** How often it was typed since the wait began; only this operator is told. */
const times = ref(0)
const hasFailed = ref(false)
/** Names the wait once it has begun: what is typed before it is not heard. */
const token = ref<string>()
let clock: ReturnType<typeof setTimeout> | undefined
const begun = Date.now()
let isGone = false

async function look() {
  try {
    token.value ??= (
      await unwrap(client.POST('/api/keypads/{id}/waits/', { params: { path: { id: props.reader.id } } }))
    ).token
    const found = await unwrap(
      client.GET('/api/keypads/waits/{token}/', { params: { path: { token: token.value } } }),
    )
    hasFailed.value = false
    times.value = found.times
    if (found.times > 1) return emit('chosen', token.value)
  } catch {
    hasFailed.value = true
  }
  if (isGone) return
  if (Date.now() - begun > LONGEST_MS) return emit('cancel')
  clock = setTimeout(() => void look(), EVERY_MS)
}
onMounted(() => void look())
onBeforeUnmount(() => {
  isGone = true
  clearTimeout(clock)
})
</script>

<template>
  <div class="row wait">
    <p role="status">
      {{
        hasFailed
          ? t('common.failed')
          : !token
            ? t('common.loading')
            : times === 0
              ? t('pins.typeAtKeypad', { reader: reader.name })
              : t('pins.typeAgainAtKeypad')
      }}
    </p>
    <Button size="small" severity="secondary" :label="t('common.cancel')" @click="emit('cancel')" />
  </div>
</template>

<style scoped>
.wait {
  padding: 4px 8px;
  border-left: 3px solid var(--p-cadrin-lit);
  background: var(--p-cadrin-amber-paper);
}
</style>
