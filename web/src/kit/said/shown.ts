import type { Read } from '@/api/client'
import { t } from '@/words'

import { cardWords } from './card'

/** What somebody presented: a card by its numbers, a plate by its signs, a PIN by that it was one, or several. */
export function shownWords(read: Read): string {
  const parts = read.factors.map((factor) => {
    if (factor === 'card') return cardWords(read)
    return factor === 'plate' ? read.plate || t('factors.plate') : t('activity.pin')
  })
  return parts.join(` ${t('factors.and')} `)
}

/** Whether a PIN was typed and nothing else presented. */
export const isPinAlone = (read: Read) => read.factors.length === 1 && read.factors[0] === 'pin'

/** Whose it is that nobody is known to have. */
export const nobodyWords = (read: Read) =>
  t(
    read.is_anothers
      ? 'strip.anothers'
      : read.plate && !read.factors.includes('card')
        ? 'activity.nobodysPlate'
        : 'activity.nobody',
  )
