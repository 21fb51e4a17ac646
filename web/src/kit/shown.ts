import type { Read } from '@/api/client'
import { t } from '@/words'

import { cardWords } from './card'

/** What somebody showed: a card by its numbers, a PIN by that it was one, or both. */
export function shownWords(read: Read): string {
  if (read.shown === 'pin') return t('activity.pin')
  return read.shown === 'card_and_pin' ? `${cardWords(read)} ${t('activity.withPin')}` : cardWords(read)
}
