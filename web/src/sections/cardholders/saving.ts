import { useConfirm } from 'primevue/useconfirm'
import { useToast } from 'primevue/usetoast'
import { computed, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import type { FileDraft, SavedFile } from '@/api/client'
import { newCardholder } from '@/kit/use-read'
import { t } from '@/words'

import { changesOf } from './changes'
import type { useFileDraft } from './draft'

/** Saving a cardholder: what is asked before it, what is shown once after it, and where it goes on. */
export function useSaving(id: number | null, file: ReturnType<typeof useFileDraft>, mayChange: boolean) {
  const router = useRouter()
  const toast = useToast()
  const confirm = useConfirm()

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

  async function save(isNext = false) {
    if (!mayChange) return
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
    if (!file.isDirty.value) file.discard()
  }
  async function closePins() {
    const shown = shownPins.value
    shownPins.value = null
    if (shown) await goOn(shown.saved, shown.isNext)
  }
  async function goOn(saved: SavedFile, isNext: boolean) {
    if (isNext) await router.push(newCardholder())
    else if (id === null) await router.replace({ name: 'cardholder', params: { id: saved.id } })
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
