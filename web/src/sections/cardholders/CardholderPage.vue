<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { Gap } from '@/api/client'
import { house, records } from '@/api/queries'
import { endOf } from '@/kit/time/clock'
import { useKeys } from '@/kit/controls/keys'
import MayChange from '@/kit/controls/MayChange.vue'
import { under } from '@/kit/state/parts'
import { useReads } from '@/kit/state/reads'
import { useSession } from '@/kit/state/session'
import { useSubject } from '@/kit/state/title'
import { cardInQuery } from '@/kit/state/use-read'
import { t } from '@/words'

import AccessPart from './AccessPart.vue'
import CredentialParts from './CredentialParts.vue'
import DetailsPart from './DetailsPart.vue'
import { lastSaved, useFileDraft } from './draft'
import EffectsPanel from './EffectsPanel.vue'
import ErasePart from './ErasePart.vue'
import HistoryPart from './HistoryPart.vue'
import { PART_OF_GAP } from './gaps'
import { leftOutWords } from './left-out'
import PageNotes from './PageNotes.vue'
import ProposalNote from './ProposalNote.vue'
import PersonColumn from './PersonColumn.vue'
import PhotoPart from './photo/PhotoPart.vue'
import LettersPart from './pins/LettersPart.vue'
import ShownPins from './pins/ShownPins.vue'
import ReachPanel from './ReachPanel.vue'
import SaveBar from './SaveBar.vue'
import { useSaving } from './saving'
import StaleDialog from './StaleDialog.vue'
import { useTaking } from './taking'
import ValidityPart from './ValidityPart.vue'

const props = defineProps<{ id: number | null }>()

const route = useRoute()
const router = useRouter()
const { data: choices } = useQuery(house)
/** Which draft of somebody new it is. */
const key = props.id === null ? String(route.query.start ?? '') : ''
const file = useFileDraft(props.id, key)
const { draft, consequences, isDirty, asOf, stale } = file
const session = useSession()
const reads = useReads()
const mayChange = session.may(props.id === null ? 'enrol' : 'edit')
const { data: delivery } = useQuery({ ...records(props.id ?? 0), enabled: props.id !== null })

/** Where an older record counts, from which something was taken away since. */
const leftOut = computed(() => (delivery.value?.records ?? []).flatMap(leftOutWords))
const silent = computed(() => delivery.value?.records.filter((one) => one.failed_at) ?? [])
const oldRecords = computed(() => delivery.value?.records.filter((one) => one.still_works) ?? [])

useSubject(() => {
  const { first_name = '', last_name = '' } = draft.value ?? {}
  return `${first_name} ${last_name}`.trim() || (props.id === null ? t('file.new') : '')
})

// -- the newest read -------------------------------------------------------------------------

const taking = useTaking(props.id, file, mayChange, () => goTo('cards'))
const { onlyToday, takeRead, addCard, joinGroup } = taking

// a card that was in hand, or a group that was proposed, when the page was opened
watch(
  () => draft.value !== null,
  (is) => {
    const card = cardInQuery(route.query.card)
    if (is && card) void addCard(card)
    if (is && Number(route.query.group)) joinGroup(Number(route.query.group))
    if (is && file.shared.value?.getsCard) taking.next.begin(true)
    if (is && props.id === null)
      void nextTick(() => document.querySelector<HTMLInputElement>('#details input')?.focus())
    if (is && route.hash) void nextTick(() => goTo(route.hash.slice(1)))
  },
  { immediate: true },
)

// -- acts ------------------------------------------------------------------------------------

const saving = useSaving(props.id, file, mayChange, taking.arrived)
const { save, shownDoubles, shownPins } = saving
const isErased = computed(() => {
  const saved = file.saved.value
  return saved !== undefined && 'is_erased' in saved && saved.is_erased === true
})
const PARTS = ['details', 'photo', 'cards', 'pins', 'access', 'validity'] as const
useKeys({
  'Ctrl+S': () => void save(),
  'Ctrl+Enter': () => void save(true),
  ...Object.fromEntries(PARTS.map((part, place) => [`Alt+${place + 1}`, () => goTo(part)])),
})

function mend(gap: Gap) {
  if (gap === 'not_held') void router.push({ name: 'delivery' })
  else goTo(PART_OF_GAP[gap])
}
function goTo(part: string) {
  const section = document.getElementById(part)
  section?.scrollIntoView({ block: 'start' })
  section?.querySelector<HTMLElement>('[data-first], input, button')?.focus({ preventScroll: true })
}

// readiness speaks of the delivery too: weigh anew when it has come further
watch(
  () => delivery.value?.not_held,
  () => void file.weighAgain(),
)
const isGone = computed(() => file.loadError.value !== null)
const inForce = computed(() => ({
  start: draft.value?.activation_at ?? null,
  end: draft.value?.expiry_at ? endOf(draft.value.expiry_at).toISOString() : null,
}))
</script>

<template>
  <p v-if="isGone" class="page">{{ t('file.gone') }}</p>
  <p v-else-if="!draft || !choices" class="page quiet">{{ t('common.loading') }}</p>
  <div v-else class="columns stacks">
    <PersonColumn
      :cardholder-id="id"
      :draft="draft"
      :readiness="consequences?.readiness ?? []"
      :is-new="id === null"
      :still-works-at="oldRecords.map((one) => one.name)"
      :left-out="leftOut"
      :condition="consequences ?? null"
      :silent-at="silent.map((one) => one.name)"
      @mend="mend"
    />
    <div class="middle">
      <div class="parts">
        <PageNotes
          :id="id"
          :file="file"
          :draft-key="key"
          :is-erased="isErased"
          :doubles="shownDoubles"
          @not-the-same="saving.notTheSame"
        />
        <ProposalNote
          v-if="file.base.value"
          :id="id"
          v-model="draft"
          :base="file.base.value"
          :choices="choices"
          :consequences="consequences"
        />
        <MayChange :may="mayChange">
          <DetailsPart v-model="draft" :choices="choices" :problems="file.problems.value" />
          <PhotoPart
            v-model="draft.images"
            :choices="choices"
            :problems="under(file.problems.value, 'images')"
          />
        </MayChange>
        <CredentialParts
          :id="id"
          v-model="draft"
          v-model:only-today="onlyToday"
          :choices="choices"
          :may-issue="mayChange && session.may('issue')"
          :problems="file.problems.value"
          :awaited="taking.next"
          :older="taking.older.value"
          :saved="file.base.value?.cards ?? []"
          @read="takeRead"
          @use="taking.use(reads.newest)"
          @add="addCard"
          @changed="file.discard()"
          @go-to="goTo"
        />
        <LettersPart v-if="id !== null" :id="id" @shown="saving.letterCancelled" />
        <MayChange :may="mayChange && session.may('access')">
          <AccessPart
            v-model="draft.memberships"
            :cardholder="id"
            :groups="choices.groups"
            :doors="choices.doors"
            :meetings="consequences?.meetings ?? []"
            :problems="under(file.problems.value, 'memberships')"
          />
        </MayChange>
        <MayChange :may="mayChange">
          <ValidityPart v-model="draft" :problems="file.problems.value" />
        </MayChange>
        <HistoryPart v-if="id !== null" :id="id" :delivery="delivery" @changed="file.discard()" />
        <ErasePart v-if="id !== null && file.saved.value && !isErased" :id="id" :file="file.saved.value" />
      </div>
      <SaveBar
        v-if="mayChange"
        :is-dirty="isDirty"
        :is-saving="file.isSaving.value"
        :problems="file.problems.value"
        :delivery="lastSaved === id ? delivery : undefined"
        :is-discarded="file.discarded.value !== null"
        @save="save()"
        @save-next="save(true)"
        @discard="file.discard()"
        @bring-back="file.bringBack()"
      />
    </div>
    <aside class="right">
      <ReachPanel
        v-if="consequences"
        v-model:as-of="asOf"
        :consequences="consequences"
        :doors="choices.doors"
        :groups="choices.groups"
        :in-force="inForce"
        :still-works-at="oldRecords.map((one) => one.controller_id)"
        :silent-at="silent.map((one) => one.name)"
      />
      <EffectsPanel :consequences="consequences" :doors="choices.doors" :is-dirty="isDirty" />
    </aside>
    <ShownPins
      v-if="shownPins"
      :name="shownPins.saved.display_name"
      :number="shownPins.saved.number"
      :pins="shownPins.saved.shown_pins ?? []"
      @close="saving.closePins"
    />
    <StaleDialog v-if="stale" :stale="stale" :choices="choices" @settle="file.settle" />
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(190px, 236px) minmax(380px, 1fr) minmax(290px, 330px);
  height: 100%;
}
.middle {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
  border-inline: 1px solid var(--p-cadrin-hairline);
}
.parts {
  /* what is hidden from sight but not from readers stays within what scrolls */
  position: relative;
  flex: 1;
  min-height: 0;
  padding: 12px 18px 40px;
  overflow: auto;
  scroll-padding-top: 8px;
}
.right {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
/* on a narrow page everything scrolls together */
@media (width < 1000px) {
  .parts {
    overflow: visible;
  }
}
</style>
