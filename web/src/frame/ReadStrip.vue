<script setup lang="ts">
import { ChevronDown, ChevronUp, Nfc } from '@lucide/vue'
import Menu from 'primevue/menu'
import Select from 'primevue/select'
import { computed, defineAsyncComponent, inject, shallowRef, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'

import type { Read } from '@/api/client'
import { wallOf } from '@/kit/time/clock'
import { clockWords } from '@/kit/time/region'
import { useReads } from '@/kit/state/reads'
import { shownWords } from '@/kit/said/shown'
import { cardOf, newCardholder, readUser } from '@/kit/state/use-read'
import { t } from '@/words'

const TestBench = defineAsyncComponent(() => import('./TestBench.vue'))

const isOpen = defineModel<boolean>('isOpen', { required: true })
const emit = defineEmits<{ use: [] }>()

const router = useRouter()
const reads = useReads()
const desk = computed({
  get: () => reads.deskReader?.id ?? null,
  set: (id) => (reads.chosenDesk = id),
})

const MARKS = { granted: '●', denied: '✕', shown: '○' }
const kindOf = (read: Read) =>
  read.reason === 'granted' ? 'granted' : read.reason === null && !read.happening ? 'shown' : 'denied'

function who(read: Read): string {
  if (read.happening) return t(`doing.happenings.${read.happening}`)
  if (read.cardholder_name) return read.cardholder_name
  if (read.holder_name)
    return read.reason === 'unknown_card' ? t('strip.notHere', { name: read.holder_name }) : read.holder_name
  if (read.is_anothers) return t('strip.anothers')
  if (!read.factors.includes('card')) return ''
  return read.card_number === null ? t('strip.unreadable') : t('strip.unknown')
}
/** What became of the card, where it is not simply in use: a desk decides nothing and must say it all the same. */
const cardFault = (read: Read) =>
  read.card_status && read.card_status !== 'issued' ? t(`statuses.${read.card_status}`) : ''
const taker = inject(readUser)
const pointedAt = shallowRef<Read | null>(null)
const menu = useTemplateRef('menu')

const why = (read: Read) => void router.push({ name: 'activity', query: { read: read.id } })
/** A card with which something is wrong stands open there. */
function toHolder(read: Read, id: number) {
  const leads = cardFault(read) ? { query: { opened: read.card_number }, hash: '#cards' } : {}
  void router.push({ name: 'cardholder', params: { id }, ...leads })
}
function open(read: Read) {
  const holder = read.cardholder_id ?? read.holder_id
  // why somebody was not let in is what one asks first
  if (read.happening || (kindOf(read) === 'denied' && holder)) why(read)
  else if (holder) toHolder(read, holder)
  else if (read.card_number !== null) void router.push(newCardholder(read))
  else why(read)
}
/** A read is first of all for whoever is open; what else it may be used for stands beneath. */
function clicked(read: Read, event: Event) {
  if (!taker?.value?.name || !cardOf(read)) {
    open(read)
    return
  }
  pointedAt.value = read
  menu.value?.toggle(event)
}
const choices = computed(() => {
  const [read, user] = [pointedAt.value, taker?.value]
  if (!read || !user?.name) return []
  const holder = read.cardholder_id ?? read.holder_id
  const isHeld = read.holder_id !== null
  return [
    ...(isHeld ? [] : [{ label: t('strip.giveTo', { name: user.name() }), command: () => user.take(read) }]),
    ...(holder
      ? [
          {
            label: t('strip.openHolder', { name: read.cardholder_name || read.holder_name }),
            command: () => toHolder(read, holder),
          },
        ]
      : [{ label: t('desk.enrolWith'), command: () => void router.push(newCardholder(read)) }]),
    ...(kindOf(read) === 'denied' ? [{ label: t('strip.why'), command: () => why(read) }] : []),
  ]
})
</script>

<template>
  <footer class="dock">
    <TestBench v-if="isOpen" />
    <div class="strip">
      <Nfc :size="16" aria-hidden="true" />
      <Select
        v-model="desk"
        :options="reads.readers"
        option-label="name"
        option-value="id"
        size="small"
        class="desk"
        filter
        :aria-label="t('strip.desk')"
      />
      <button type="button" class="plain" :title="`${t('strip.use')} (U)`" @click="emit('use')">
        <kbd class="mono">U</kbd><span class="unseen">{{ t('strip.use') }}</span>
      </button>
      <ul class="chips" :aria-label="t('strip.label')" aria-live="polite">
        <li v-if="reads.isSilent" class="silent">{{ t('frame.silent') }}</li>
        <li v-else-if="!reads.reads.length" class="none">{{ t('strip.none') }}</li>
        <li v-for="read in reads.reads.slice(0, 8)" :key="read.id">
          <button
            type="button"
            class="chip"
            :class="[kindOf(read), { newest: read.id === reads.newest?.id }]"
            :title="read.reason ? t(`reasons.${read.reason}`) : ''"
            @click="clicked(read, $event)"
          >
            <span aria-hidden="true">{{ MARKS[kindOf(read)] }}</span>
            <span class="mono">{{ clockWords(wallOf(read.at).seconds) }}</span>
            <span>{{ read.reader_name }}</span>
            <span class="mono">{{ shownWords(read) }}</span>
            <b>{{ who(read) }}</b>
            <b v-if="cardFault(read)" class="fault">{{ cardFault(read) }}</b>
          </button>
        </li>
      </ul>
      <Menu ref="menu" :model="choices" popup />
      <button type="button" class="plain bench" :aria-expanded="isOpen" @click="isOpen = !isOpen">
        {{ t('strip.bench') }}
        <component :is="isOpen ? ChevronDown : ChevronUp" :size="16" aria-hidden="true" />
      </button>
    </div>
  </footer>
</template>

<style scoped>
.dock {
  grid-area: strip;
  min-width: 0;
  background: var(--p-cadrin-strip);
  color: var(--p-cadrin-bar-ink);
}
.strip {
  display: flex;
  align-items: center;
  gap: 8px;
  height: 40px;
  padding: 0 12px;
}
.desk {
  width: 150px;
  flex: none;
}
.chips {
  display: flex;
  /* what does not fit whole wraps out of sight */
  flex-wrap: wrap;
  gap: 14px 6px;
  flex: 1;
  min-width: 0;
  height: 26px;
  overflow: hidden;
}
.none,
.silent {
  color: var(--p-cadrin-bar-quiet);
}
.chip {
  display: flex;
  gap: 6px;
  padding: 2px 8px;
  font-size: 12px;
  white-space: nowrap;
  border: 1px solid var(--p-cadrin-night-line);
  border-radius: 4px;
  background: var(--p-cadrin-night);
  color: var(--p-cadrin-bar-ink);
  cursor: pointer;
}
.fault {
  padding: 0 4px;
  border: 1px solid var(--p-cadrin-lit);
  border-radius: 3px;
}
.chip.newest {
  border-color: var(--p-cadrin-lit);
}
.plain {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  padding: 3px 6px;
  border: 0;
  border-radius: 4px;
  background: none;
  color: inherit;
  cursor: pointer;
  white-space: nowrap;
}
.plain:hover {
  background: var(--p-cadrin-night);
}
kbd {
  padding: 0 6px;
  border: 1px solid var(--p-cadrin-bar-quiet);
  border-radius: 3px;
}
.dock :focus-visible {
  outline-color: var(--p-cadrin-lit);
}
</style>
