<script setup lang="ts">
import { Plus } from '@lucide/vue'
import Button from 'primevue/button'
import { useToast } from 'primevue/usetoast'

import type { CardDraft, Read } from '@/api/client'
import { cardWords } from '@/kit/said/card'
import { momentWords } from '@/kit/time/clock'
import { type NextRead, useNextRead } from '@/kit/state/next-read'
import { useReads } from '@/kit/state/reads'
import { cardOf } from '@/kit/state/use-read'
import { t } from '@/words'

import FromStock from './FromStock.vue'

/** Every way to come by a card: the newest read, the next one, one from stock, or numbers that are typed. */
const props = defineProps<{
  hasTyping?: boolean
  isFirst?: boolean
  /** What waits for the next card already, if something does. */
  awaited?: NextRead
  /** The newest read, where it may be meant for somebody else: offered while one waits. */
  older?: Read | null
}>()
const emit = defineEmits<{ captured: [card: CardDraft]; read: [read: Read]; use: []; type: [] }>()

const reads = useReads()
const toast = useToast()
const next = props.awaited ?? useNextRead(take)

function useNewest() {
  if (props.awaited) emit('use')
  else if (reads.newest) take(reads.newest)
}
function take(read: Read) {
  const card = cardOf(read)
  if (card) emit('read', read)
  else toast.add({ severity: 'warn', summary: t('strip.notCard'), life: 4000 })
}
</script>

<template>
  <div class="capture">
    <template v-if="next.isWaiting.value">
      <p class="waiting" role="status">
        {{
          next.left.value === null
            ? t('capture.waitingLong', { reader: reads.deskReader?.name ?? '' })
            : t('capture.waiting', { reader: reads.deskReader?.name ?? '', seconds: next.left.value })
        }}
      </p>
      <Button v-if="older" size="small" severity="secondary" @click="take(older)">
        {{ t('capture.older', { card: cardWords(older), when: momentWords(older.at) }) }}
        <kbd v-if="isFirst" class="mono">U</kbd>
      </Button>
      <Button
        size="small"
        severity="secondary"
        :label="t('common.cancel')"
        @click="next.end"
        @keydown.esc.stop="next.end"
      />
    </template>
    <template v-else>
      <Button
        size="small"
        :data-first="isFirst ? '' : undefined"
        :disabled="!reads.newest && !awaited"
        @click="useNewest"
      >
        {{ t('file.useRead') }} <kbd v-if="isFirst" class="mono">U</kbd>
      </Button>
      <Button size="small" severity="secondary" :label="t('capture.wait')" @click="next.begin()" />
      <FromStock class="stock" @chosen="emit('captured', $event)" />
      <Button v-if="hasTyping" size="small" severity="secondary" @click="emit('type')">
        <Plus :size="14" aria-hidden="true" /> {{ t('capture.type') }}
      </Button>
    </template>
  </div>
</template>

<style scoped>
.capture {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 8px;
}
.waiting {
  padding: 3px 8px;
  border-left: 3px solid var(--p-cadrin-lit);
  background: var(--p-cadrin-amber-paper);
}
.stock {
  width: 100px;
}
.stock :deep(input) {
  width: 100%;
}
kbd {
  padding: 0 5px;
  border: 1px solid currentcolor;
  border-radius: 3px;
}
</style>
