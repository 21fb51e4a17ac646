import { useConfirm } from 'primevue/useconfirm'
import { useToast } from 'primevue/usetoast'
import { computed, nextTick, onScopeDispose, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import type { FileDraft, SavedFile } from '@/api/client'
import { isLeaving } from '@/kit/state/leaving'
import { useSession } from '@/kit/state/session'
import { freshStart } from '@/kit/state/use-read'
import { t } from '@/words'

import { changesOf } from './changes'
import type { useFileDraft } from './draft'
import { keepShared, type Shared, sharedWith } from './sharing'

/**
 * Saving a cardholder: what is asked before it, what is shown once after it, and where it goes on. A card that was
 * just shown has `arrived` before anything is saved.
 */
export function useSaving(
  id: number | null,
  file: ReturnType<typeof useFileDraft>,
  mayChange: boolean,
  arrived: () => Promise<void>,
) {
  const router = useRouter()
  const toast = useToast()
  const confirm = useConfirm()
  const mayIssue = useSession().may('issue')

  /** Somebody who may be the same human being: not saved as another before that was answered. */
  const doubles = computed(() =>
    file.isDirty.value || id !== null ? (file.consequences.value?.possible_duplicates ?? []) : [],
  )
  const doublesKey = computed(() => doubles.value.map((one) => one.id).join())
  const answered = ref('')
  const shownDoubles = computed(() => (doublesKey.value === answered.value ? [] : doubles.value))
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

  /** Saved without anything that opens a door: asked about once, for all who are enrolled in a row. */
  const isWithout = ref(file.shared.value?.isWithoutCredential ?? false)
  const opensNothing = ({ cards, pins, plates, biometrics }: FileDraft) =>
    ![...cards, ...pins, ...plates, ...(biometrics?.fingers ?? []), ...(biometrics?.faces ?? [])].length
  function askAboutCredentials(isNext: boolean) {
    confirm.require({
      header: t('file.withoutCredential'),
      message: t('file.withoutCredentialAsk'),
      acceptLabel: t('file.saveWithout'),
      rejectLabel: t('file.notYet'),
      acceptProps: { size: 'small' },
      rejectProps: { severity: 'secondary', size: 'small', variant: 'text' },
      accept: () => {
        isWithout.value = true
        // another question may follow, in the dialogue that is about to close
        void nextTick(() => save(isNext))
      },
    })
  }

  async function save(isNext = false) {
    if (!mayChange) return
    await arrived()
    const typed = file.draft.value
    // nobody is saved without a name: that is told, and nothing is asked before it
    const isNamed = `${typed?.first_name}${typed?.last_name}`.trim() !== ''
    if (id === null && mayIssue && !isWithout.value && isNamed && typed && opensNothing(typed)) {
      askAboutCredentials(isNext)
      return
    }
    if (id === null && shownDoubles.value.length) {
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
    if (typed) shares = sharedWith(saved, typed, isWithout.value)
    if (saved.shown_pins?.length) {
      // shown where they were made up: the next page opens when it was closed
      shownPins.value = { saved, isNext }
      return
    }
    await goOn(saved, isNext)
  }
  /** What the next one shares with whoever was saved last. */
  let shares: Shared | null = null
  const shownPins = shallowRef<{ saved: SavedFile; isNext: boolean } | null>(null)
  const isSaved = (found: FileDraft | SavedFile): found is SavedFile => 'display_name' in found
  /** A letter was cancelled into another PIN, which is shown as one that was just saved. */
  function letterCancelled(pin: { label: string; digits: string }) {
    const saved = file.saved.value
    if (saved && isSaved(saved)) shownPins.value = { saved: { ...saved, shown_pins: [pin] }, isNext: false }
    // the cardholder has another version now
    if (!file.isDirty.value) file.discard()
  }
  async function closePins() {
    const shown = shownPins.value
    shownPins.value = null
    if (shown) await goOn(shown.saved, shown.isNext)
  }
  let isHere = true
  onScopeDispose(() => (isHere = false))
  async function goOn(saved: SavedFile, isNext: boolean) {
    // whoever went elsewhere while it was being saved stays there
    if (!isHere || isLeaving()) return
    if (isNext) {
      const key = freshStart()
      if (id === null && shares) keepShared(key, shares)
      await router.push({ name: 'new-cardholder', query: { start: key } })
    } else if (id === null) await router.replace({ name: 'cardholder', params: { id: saved.id } })
  }

  return {
    save,
    shownDoubles,
    shownPins,
    closePins,
    letterCancelled,
    notTheSame: () => (answered.value = doublesKey.value),
  }
}
