import { watch } from 'vue'

import { type Language, show, wantedLanguage, type Words } from '.'

/** Each language is fetched when somebody wants it, and no other. */
const CATALOGUES: Record<Language, () => Promise<Words>> = {
  en: async () => (await import('./en')).en,
  de: async () => (await import('./de')).de,
}

/** Show the page in the language that is wanted, from now on; nothing can be said before it is there. */
export async function followLanguage(): Promise<void> {
  const load = async (wanted: Language) => {
    const words = await CATALOGUES[wanted]()
    if (wanted === wantedLanguage.value) show(wanted, words)
  }
  watch(wantedLanguage, (wanted) => void load(wanted))
  await load(wantedLanguage.value)
}
