<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useConfirm } from 'primevue/useconfirm'
import { useToast } from 'primevue/usetoast'
import { computed, inject, nextTick, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { FileDraft, Gap, Problem, Read, SavedFile } from '@/api/client'
import { coming, house, records } from '@/api/queries'
import { isSameCard } from '@/kit/card'
import { whenWords } from '@/kit/clock'
import { useKeys } from '@/kit/keys'
import MayChange from '@/kit/MayChange.vue'
import { useSession } from '@/kit/session'
import { cardInQuery, cardOf, newCardholder, readUser } from '@/kit/use-read'
import { t } from '@/words'

import AccessPart from './AccessPart.vue'
import CardsPart from './cards/CardsPart.vue'
import CardsSeen from './cards/CardsSeen.vue'
import { changesOf } from './changes'
import DetailsPart from './DetailsPart.vue'
import { lastSaved, useFileDraft } from './draft'
import DoublesNote from './DoublesNote.vue'
import EffectsPanel from './EffectsPanel.vue'
import ErasePart from './ErasePart.vue'
import HistoryPart from './HistoryPart.vue'
import { leftOutWords } from './left-out'
import { useOthers } from './presence'
import ProposalNote from './ProposalNote.vue'
import PersonColumn from './PersonColumn.vue'
import PhotoPart from './photo/PhotoPart.vue'
import LettersPart from './pins/LettersPart.vue'
import PinsPart from './pins/PinsPart.vue'
import PlatesPart from './PlatesPart.vue'
import ShownPins from './pins/ShownPins.vue'
import ReachPanel from './ReachPanel.vue'
import SaveBar from './SaveBar.vue'
import StaleDialog from './StaleDialog.vue'
import ValidityPart from './ValidityPart.vue'

const props = defineProps<{ id: number | null }>()

const queries = useQueryClient()
const route = useRoute()
const router = useRouter()
const toast = useToast()
const confirm = useConfirm()
const { data: choices } = useQuery(house)
const file = useFileDraft(props.id)
const { draft, consequences, isDirty, asOf, stale } = file
const session = useSession()
const mayChange = session.may(props.id === null ? 'enrol' : 'edit')
const { data: delivery } = useQuery({ ...records(props.id ?? 0), enabled: props.id !== null })

/** Where an older record counts, from which something was taken away since. */
const leftOut = computed(() => (delivery.value?.records ?? []).flatMap(leftOutWords))
const silent = computed(() => delivery.value?.records.filter((one) => one.failed_at) ?? [])
const oldRecords = computed(() => delivery.value?.records.filter((one) => one.still_works) ?? [])

/** The problems of one part, seen from inside it: `cards.0.status` is `0.status` to the cards. */
const readsPlates = computed(() => choices.value?.readers.some((reader) => reader.has_camera) ?? false)
const problemsUnder = (name: string): Problem[] =>
  file.problems.value
    .filter((one) => one.field?.startsWith(`${name}.`))
    .map((one) => ({ ...one, field: one.field?.slice(name.length + 1) ?? null }))

// -- the newest read -------------------------------------------------------------------------

const onlyToday = ref(false)
function takeRead(read: Read) {
  if (!mayChange || !session.may('issue')) {
    // whoever may not issue it is shown whose it is
    if (read.holder_id) void router.push({ name: 'cardholder', params: { id: read.holder_id } })
    return
  }
  const card = cardOf(read)
  if (!card) toast.add({ severity: 'warn', summary: t('strip.notCard'), life: 4000 })
  else if (read.holder_id === props.id && props.id !== null) goTo('cards')
  else if (read.holder_name)
    toast.add({ severity: 'warn', summary: t('strip.hasIt', { name: read.holder_name }), life: 5000 })
  else void addCard(card)
}
async function addCard(card: NonNullable<ReturnType<typeof cardOf>>) {
  // one that is only lent goes back by itself at night
  const lent = onlyToday.value
    ? { is_temporary: true, expiry_at: (await queries.fetchQuery(coming)).end_of_day }
    : {}
  if (!draft.value) return
  if (draft.value.cards.some((one) => isSameCard(one, card))) return
  draft.value.cards.push({ ...card, ...lent })
  onlyToday.value = false
}
/** Put them into a group that they are not in: an act that was proposed elsewhere. */
function joinGroup(group: number) {
  const memberships = draft.value?.memberships
  if (!memberships?.some((one) => one.group === group))
    memberships?.push({ group, activation_at: null, expiry_at: null })
}
const taker = inject(readUser)
onMounted(() => taker && (taker.value = takeRead))
onBeforeUnmount(() => taker && (taker.value = null))

// a card that was in hand, or a group that was proposed, when the page was opened
watch(
  () => draft.value !== null,
  (is) => {
    const card = cardInQuery(route.query.card)
    if (is && card) void addCard(card)
    if (is && Number(route.query.group)) joinGroup(Number(route.query.group))
    if (is && props.id === null)
      void nextTick(() => document.querySelector<HTMLInputElement>('#details input')?.focus())
    if (is && route.hash) void nextTick(() => goTo(route.hash.slice(1)))
  },
  { immediate: true },
)

// -- acts ------------------------------------------------------------------------------------

/** Somebody who may be the same human being: not saved as another before that was answered. */
const doubles = computed(() =>
  isDirty.value || props.id !== null ? (consequences.value?.possible_duplicates ?? []) : [],
)
const doublesKey = computed(() => doubles.value.map((one) => one.id).join())
const answered = ref('')
const shownDoubles = computed(() => (doublesKey.value === answered.value ? [] : doubles.value))
const isErased = computed(
  () => file.saved.value !== undefined && 'is_erased' in file.saved.value && file.saved.value.is_erased,
)
const others = useOthers(props.id)
function askAboutDoubles(isNext: boolean) {
  confirm.require({
    header: t('doubles.title', shownDoubles.value.length),
    message: t('doubles.ask', { names: shownDoubles.value.map((one) => one.display_name).join(', ') }),
    acceptLabel: t('doubles.saveAnyway'),
    rejectLabel: t('doubles.look'),
    acceptProps: { size: 'small' },
    rejectProps: { severity: 'secondary', size: 'small', variant: 'text' },
    accept: () => {
      answered.value = doublesKey.value
      void save(isNext)
    },
  })
}

async function save(isNext = false) {
  if (!mayChange) return
  if (props.id === null && shownDoubles.value.length) {
    askAboutDoubles(isNext)
    return
  }
  // leaving the field takes what is typed in it, and makes the next letter a key again
  const field = document.activeElement
  if (field instanceof HTMLElement) field.blur()
  const saved = await file.save()
  if (!saved) {
    // whoever went on to another field while it was being saved stays there
    if (field instanceof HTMLElement && document.activeElement === document.body) field.focus()
    return
  }
  if (file.mergedWith.value.length) {
    const [last] = file.mergedWith.value.slice(-1)
    const changes = file.mergedWith.value.flatMap(changesOf).join('; ')
    toast.add({
      severity: 'info',
      summary: t('people.merged', { name: last?.operator_name, changes }),
      life: 8000,
    })
    file.mergedWith.value = []
  }
  if (saved.shown_pins?.length) {
    // shown where they were made up: the next page opens when it was closed
    shownPins.value = { saved, isNext }
    return
  }
  await goOn(saved, isNext)
}
const shownPins = shallowRef<{ saved: SavedFile; isNext: boolean } | null>(null)
const isSaved = (found: FileDraft | SavedFile): found is SavedFile => 'display_name' in found
/** A letter was cancelled into another PIN, which is shown as one that was just saved. */
function letterCancelled(pin: { label: string; digits: string }) {
  const saved = file.saved.value
  if (saved && isSaved(saved)) shownPins.value = { saved: { ...saved, shown_pins: [pin] }, isNext: false }
  // the cardholder has another version now
  if (!isDirty.value) file.discard()
}
async function closePins() {
  const shown = shownPins.value
  shownPins.value = null
  if (shown) await goOn(shown.saved, shown.isNext)
}
async function goOn(saved: SavedFile, isNext: boolean) {
  if (isNext) await router.push(newCardholder())
  else if (props.id === null) await router.replace({ name: 'cardholder', params: { id: saved.id } })
}
useKeys({ 'Ctrl+S': () => void save(), 'Ctrl+Enter': () => void save(true) })

const PART_OF_GAP: Record<Gap, string> = {
  no_card: 'cards',
  no_card_in_force: 'cards',
  card_not_read: 'cards',
  no_plate: 'plates',
  no_pin: 'pins',
  no_pin_in_force: 'pins',
  no_access_group: 'access',
  groups_open_nothing: 'access',
  no_membership_in_force: 'access',
  expired: 'validity',
  suspended: 'validity',
  barred: 'validity',
  departed: 'validity',
  not_held: '',
}
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
  end: draft.value?.expiry_at ?? null,
}))
</script>

<template>
  <p v-if="isGone" class="page">{{ t('file.gone') }}</p>
  <p v-else-if="!draft || !choices" class="page quiet">{{ t('common.loading') }}</p>
  <div v-else class="columns">
    <PersonColumn
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
        <p v-if="file.keptAt.value && isDirty" class="kept" role="status">
          {{ t('file.kept', { when: whenWords(file.keptAt.value) }) }}
        </p>
        <p v-if="others.length" class="kept" role="status">
          {{ t('people.others', { names: others.join(', ') }, others.length) }}
        </p>
        <p v-if="isErased" class="kept" role="status">{{ t('people.erased') }}</p>
        <DoublesNote
          v-if="shownDoubles.length"
          :id="id"
          :doubles="shownDoubles"
          @go-on="answered = doublesKey"
        />
        <ProposalNote
          v-if="file.base.value"
          :id="id"
          v-model="draft"
          :base="file.base.value"
          :choices="choices"
          :consequences="consequences"
        />
        <p v-if="!mayChange" class="kept" role="status">{{ t('file.onlyLook') }}</p>
        <MayChange :may="mayChange">
          <DetailsPart v-model="draft" :choices="choices" :problems="file.problems.value" />
          <PhotoPart v-model="draft.images" :choices="choices" :problems="problemsUnder('images')" />
        </MayChange>
        <CardsPart
          v-if="mayChange && session.may('issue')"
          v-model="draft.cards"
          v-model:only-today="onlyToday"
          :formats="choices.formats"
          :problems="problemsUnder('cards')"
          @read="takeRead"
          @add="addCard"
        />
        <CardsSeen
          v-else
          :id="id"
          :cards="draft.cards"
          :formats="choices.formats"
          @changed="file.discard()"
        />
        <PinsPart
          v-if="mayChange && session.may('issue')"
          v-model="draft.pins"
          :readers="choices.readers"
          :length="choices.pin_length"
          :can-mail="choices.can_mail"
          :email="draft.email"
          :problems="problemsUnder('pins')"
        />
        <PlatesPart
          v-if="mayChange && session.may('issue') && (readsPlates || draft.plates.length)"
          v-model="draft.plates"
          :problems="file.problems.value"
        />
        <LettersPart v-if="id !== null" :id="id" @shown="letterCancelled" />
        <MayChange :may="mayChange && session.may('access')">
          <AccessPart
            v-model="draft.memberships"
            :groups="choices.groups"
            :problems="problemsUnder('memberships')"
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
        @save="save()"
        @save-next="save(true)"
        @discard="file.discard()"
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
      @close="closePins"
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
.kept {
  padding: 6px 10px;
  margin-bottom: 10px;
  border-left: 3px solid var(--p-cadrin-lit);
  background: var(--p-cadrin-amber-paper);
}
</style>
