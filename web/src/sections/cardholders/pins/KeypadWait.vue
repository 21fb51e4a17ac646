<script setup lang="ts">
import Button from 'primevue/button'
import { onBeforeUnmount, onMounted, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { t } from '@/words'

/** The cardholder chooses a PIN at the desk's keypad, typing it twice; nobody sees the digits. */
const props = defineProps<{ reader: { id: number; name: string } }>()
const emit = defineEmits<{ chosen: [first: number, again: number]; cancel: [] }>()

const EVERY_MS = 600
const LONGEST_MS = 90_000
const first = ref<number | null>(null)
const hasFailed = ref(false)
let after: number | undefined
let clock: ReturnType<typeof setTimeout> | undefined
const begun = Date.now()

async function look() {
  try {
    const found = await unwrap(
      client.GET('/api/keypads/{id}/', {
        params: { path: { id: props.reader.id }, query: after === undefined ? {} : { after } },
      }),
    )
    after ??= found.after
    hasFailed.value = false
    if (found.times > 0 && found.token !== null) {
      if (first.value === null) first.value = found.token
      else if (found.token !== first.value) return emit('chosen', first.value, found.token)
    }
  } catch {
    hasFailed.value = true
  }
  if (Date.now() - begun > LONGEST_MS) return emit('cancel')
  clock = setTimeout(() => void look(), EVERY_MS)
}
onMounted(() => void look())
onBeforeUnmount(() => clearTimeout(clock))
</script>

<template>
  <div class="row wait">
    <p role="status">
      {{
        hasFailed
          ? t('common.failed')
          : first === null
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
