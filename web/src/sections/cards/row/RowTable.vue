<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import { useConfirm } from 'primevue/useconfirm'
import { useToast } from 'primevue/usetoast'
import { computed, nextTick, onMounted, ref, watch } from 'vue'

import type { CardDraft } from '@/api/client'
import { useAct } from '@/kit/state/act'
import { cardWords } from '@/kit/said/card'
import { useReads } from '@/kit/state/reads'
import { type RowPerson, useRow } from '@/kit/state/row'
import { hasSounds, say, sound } from '@/kit/controls/sounds'
import StateMark from '@/kit/controls/StateMark.vue'
import { cardOf } from '@/kit/state/use-read'
import { t } from '@/words'

import FromBox from './FromBox.vue'

/** The row itself: whose turn it is, and the card that each is meant to have. */
const row = useRow()
const reads = useReads()
const queries = useQueryClient()
const toast = useToast()
const confirm = useConfirm()
const { act, isBusy, elsewhere } = useAct()

const why = ref('')
const note = ref('')
const reader = computed(() => reads.deskReader?.name ?? '')
const turnWords = computed(() => (row.turn ? t('row.turn', { name: row.turn.display_name }) : t('row.done')))

// one card after the other, in the order in which they were shown
let last = reads.reads[0]?.id ?? 0
let busy = Promise.resolve()
watch(
  () => reads.reads[0]?.id,
  () => {
    const fresh = reads.reads.filter((one) => one.id > last && one.reader_id === reads.deskReader?.id)
    last = reads.reads[0]?.id ?? last
    for (const read of fresh.reverse())
      busy = busy.then(() => {
        const card = cardOf(read)
        return card ? take(card) : refuse(t('strip.notCard'))
      })
  },
)
async function take(card: CardDraft) {
  const told = await row.take(card)
  if (told.why) return refuse(told.why)
  taken(told.note)
  sound(!told.note)
  await nextTick()
  document.querySelector('.turn-row')?.scrollIntoView({ block: 'nearest' })
}
function taken(told: string) {
  why.value = ''
  note.value = told
}
function refuse(words: string) {
  note.value = ''
  why.value = t('row.not', { why: words })
  sound(false)
}
watch(turnWords, (words) => say(words))
onMounted(() => say(turnWords.value))

async function fill(first: CardDraft) {
  const told = await row.fill(first)
  if (told.why) refuse(told.why)
  else taken(told.note)
}

async function issueAll() {
  const count = row.pairs.length
  const done = await act(async () => {
    await row.issue()
    return true
  })
  if (!done) return
  toast.add({ severity: 'success', summary: t('row.issued', count), life: 4000 })
  row.drop()
  await queries.invalidateQueries()
}
function drop() {
  if (!row.pairs.length) return row.drop()
  confirm.require({
    header: t('row.drop'),
    message: t('row.dropAsk'),
    acceptLabel: t('row.drop'),
    rejectLabel: t('common.cancel'),
    acceptProps: { size: 'small' },
    rejectProps: { severity: 'secondary', size: 'small', variant: 'text' },
    accept: () => row.drop(),
  })
}
const oldOf = (person: RowPerson) => person.old.map(cardWords).join(', ')
function stateOf(place: number, card: CardDraft | undefined) {
  if (card) return { shape: 'disc' as const, word: cardWords({ raw: '', ...card }) }
  if (place === row.place) return { shape: 'half' as const, word: t('row.now') }
  return place < row.place
    ? { shape: 'dash' as const, word: t('row.skipped') }
    : { shape: 'ring' as const, word: '' }
}
</script>

<template>
  <div class="whole">
    <div class="turn">
      <p class="whose" aria-live="assertive">{{ turnWords }}</p>
      <p v-if="row.turn">{{ t('row.show', { reader }) }}</p>
      <p class="denied" role="alert">
        {{ why }}
      </p>
      <p v-if="note" class="note" role="status">{{ note }}</p>
      <div class="row">
        <Button
          size="small"
          severity="secondary"
          :label="t('row.back')"
          :disabled="row.place === 0"
          @click="row.place -= 1"
        />
        <Button
          size="small"
          severity="secondary"
          :label="t('row.skip')"
          :disabled="!row.turn"
          @click="row.goOn()"
        />
        <label class="row" for="row-sounds">
          <Checkbox v-model="hasSounds" binary input-id="row-sounds" /> {{ t('row.sound') }}
        </label>
      </div>
      <FromBox @fill="fill" />
      <div class="row end">
        <Button
          size="small"
          :label="t('row.issueAll', { count: row.pairs.length })"
          :disabled="!row.pairs.length"
          :loading="isBusy"
          @click="issueAll"
        />
        <Button size="small" severity="secondary" variant="text" :label="t('row.drop')" @click="drop" />
      </div>
      <p v-if="!row.pairs.length" class="quiet">{{ t('row.noneYet') }}</p>
      <p v-else-if="row.became" class="quiet">{{ t(`row.becomes.${row.became}`, row.pairs.length) }}</p>
      <p class="denied">{{ elsewhere }}</p>
    </div>
    <ol class="people">
      <li
        v-for="(person, place) in row.people"
        :key="person.id"
        class="person"
        :class="{ 'turn-row': place === row.place, 'has-old': row.became }"
        :aria-current="place === row.place ? 'step' : undefined"
      >
        <span class="quiet place">{{ place + 1 }}</span>
        <span class="one-line">{{ person.display_name }}</span>
        <span class="mono quiet">{{ person.number }}</span>
        <span v-if="row.became" class="mono quiet one-line">{{ oldOf(person) }}</span>
        <StateMark v-bind="stateOf(place, row.cards[person.id])" />
        <Button
          v-if="row.cards[person.id]"
          size="small"
          severity="secondary"
          variant="text"
          :label="t('row.takeAway')"
          :aria-label="`${t('row.takeAway')}: ${person.display_name}`"
          @click="row.takeAway(person.id)"
        />
        <Button
          v-else-if="place !== row.place"
          size="small"
          severity="secondary"
          variant="text"
          :label="t('row.theirTurn')"
          :aria-label="`${t('row.theirTurn')}: ${person.display_name}`"
          @click="row.place = place"
        />
      </li>
    </ol>
  </div>
</template>

<style scoped>
.whole {
  display: grid;
  grid-template-columns: 340px 1fr;
  gap: 28px;
}
.turn {
  position: sticky;
  top: 0;
  align-self: start;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.whose {
  font-size: 20px;
  font-weight: 650;
  line-height: 1.25;
}
.denied {
  min-height: 1.5em;
}
.end {
  padding-top: 10px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.person {
  display: grid;
  grid-template-columns: 28px minmax(120px, 1fr) 90px 190px 160px;
  align-items: center;
  gap: 10px;
  min-height: 34px;
  padding: 0 6px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.has-old {
  grid-template-columns: 28px minmax(150px, 1fr) 80px 100px 130px 140px;
}
.note {
  padding: 4px 8px;
  background: var(--p-cadrin-amber-paper);
}
.turn-row {
  background: var(--p-cadrin-amber-paper);
  box-shadow: inset 3px 0 0 var(--p-cadrin-lit);
}
.place {
  text-align: right;
}
</style>
