import type { PrimeVueConfiguration, PrimeVueLocaleOptions } from 'primevue/config'
import { watch } from 'vue'

import { firstDayOfWeek } from '@/kit/time/region'

import { language, type Language, localeTag } from '.'

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
    chooseYear: 'Choose the year',
    chooseMonth: 'Choose the month',
    chooseDate: 'Choose a day',
    prevMonth: 'Month before',
    nextMonth: 'Month after',
    prevYear: 'Year before',
    nextYear: 'Year after',
    prevDecade: 'Ten years before',
    nextDecade: 'Ten years after',
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
    chooseYear: 'Jahr wählen',
    chooseMonth: 'Monat wählen',
    chooseDate: 'Tag wählen',
    prevMonth: 'Monat davor',
    nextMonth: 'Monat danach',
    prevYear: 'Jahr davor',
    nextYear: 'Jahr danach',
    prevDecade: 'Zehn Jahre davor',
    nextDecade: 'Zehn Jahre danach',
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

/** The names of days and months, and the first day of the week, as the region has them (CLDR). */
function calendarNames(): Partial<PrimeVueLocaleOptions> {
  const names = (count: number, options: Intl.DateTimeFormatOptions, dayOf: (place: number) => Date) => {
    const format = new Intl.DateTimeFormat(localeTag(), { timeZone: 'UTC', ...options })
    return Array.from({ length: count }, (_, place) => format.format(dayOf(place)))
  }
  // 4 January 1970 was a Sunday
  const weekday = (place: number) => new Date(Date.UTC(1970, 0, 4 + place))
  const month = (place: number) => new Date(Date.UTC(1970, place, 1))
  return {
    dayNames: names(7, { weekday: 'long' }, weekday),
    dayNamesShort: names(7, { weekday: 'short' }, weekday),
    dayNamesMin: names(7, { weekday: 'narrow' }, weekday),
    monthNames: names(12, { month: 'long' }, month),
    monthNamesShort: names(12, { month: 'short' }, month),
    firstDayOfWeek: firstDayOfWeek(),
  }
}

/** Let the component library speak the language of the page. */
export function useLibraryWords(library: { config: PrimeVueConfiguration }) {
  watch(
    [language, localeTag],
    ([chosen]) => {
      library.config.locale = {
        ...library.config.locale,
        ...WORDS[chosen],
        ...calendarNames(),
      } as PrimeVueConfiguration['locale']
    },
    { immediate: true },
  )
}
