import type { PrimeVueConfiguration, PrimeVueLocaleOptions } from 'primevue/config'
import { watch } from 'vue'

import { language, type Language } from '.'

/** What the component library says by itself, where it is not our English. */
const WORDS: Record<Language, Partial<PrimeVueLocaleOptions>> = {
  en: {
    emptyFilterMessage: 'Nothing found',
    emptyMessage: 'Nothing to choose',
    emptySearchMessage: 'Nothing found',
    emptySelectionMessage: 'Nothing chosen',
    selectionMessage: '{0} chosen',
    searchMessage: '{0} found',
    choose: 'Choose',
    clear: 'Clear',
    cancel: 'Cancel',
    accept: 'Yes',
    reject: 'No',
    aria: {
      close: 'Close',
      selectAll: 'All chosen',
      unselectAll: 'None chosen',
      listLabel: 'Choices',
      filterConstraint: 'Filter',
      star: '',
      stars: '',
      trueLabel: 'Yes',
      falseLabel: 'No',
      nullLabel: 'Not chosen',
    },
  },
  de: {
    emptyFilterMessage: 'Nichts gefunden',
    emptyMessage: 'Nichts zu wählen',
    emptySearchMessage: 'Nichts gefunden',
    emptySelectionMessage: 'Nichts gewählt',
    selectionMessage: '{0} gewählt',
    searchMessage: '{0} gefunden',
    choose: 'Wählen',
    clear: 'Leeren',
    cancel: 'Abbrechen',
    accept: 'Ja',
    reject: 'Nein',
    aria: {
      close: 'Schließen',
      selectAll: 'Alle gewählt',
      unselectAll: 'Keine gewählt',
      listLabel: 'Auswahl',
      filterConstraint: 'Filter',
      star: '',
      stars: '',
      trueLabel: 'Ja',
      falseLabel: 'Nein',
      nullLabel: 'Nicht gewählt',
    },
  },
}

/** Let the component library speak the language of the page. */
export function useLibraryWords(library: { config: PrimeVueConfiguration }) {
  watch(
    language,
    (chosen) => {
      library.config.locale = {
        ...library.config.locale,
        ...WORDS[chosen],
      } as PrimeVueConfiguration['locale']
    },
    { immediate: true },
  )
}
