import { watch } from 'vue'

import { type FirstWords, type Language, type RestOfWords, show, wantedLanguage } from '.'

/** Each language is fetched when somebody wants it, and no other. */
const FIRST: Record<Language, () => Promise<FirstWords>> = {
  en: async () => (await import('./en')).first,
  de: async () => (await import('./de')).first,
}
const REST: Record<Language, () => Promise<RestOfWords>> = {
  en: async () => (await import('./en/rest')).rest,
  de: async () => (await import('./de/rest')).rest,
}
async function load(wanted: Language): Promise<void> {
  const [first, rest] = await Promise.all([FIRST[wanted](), REST[wanted]()])
  if (wanted === wantedLanguage.value) show(wanted, first, rest)
}
let whole: Promise<void> = Promise.resolve()

/** Come when everything can be said: every page but the Desk waits for it. What could not be fetched is asked for anew. */
export const wholeCatalogue = () => whole.catch(() => (whole = load(wantedLanguage.value)))

/**
 * Show the page in the language that is wanted, from now on. Nothing can be said before the first words are there;
 * the rest are fetched behind them.
 */
export async function followLanguage(): Promise<void> {
  watch(wantedLanguage, (wanted) => (whole = load(wanted)))
  const wanted = wantedLanguage.value
  const first = FIRST[wanted]()
  whole = first.then(() => load(wanted))
  whole.catch(() => undefined) // whoever needs them asks anew
  show(wanted, await first)
}
