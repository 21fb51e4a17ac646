import type { Read } from '@/api/client'
import { t } from '@/words'

import type { Shape } from '@/kit/controls/StateMark.vue'

/** What came of a read, or what a door did, as a shape and a word. */
export function verdictOf(read: Read): { shape: Shape; word: string } {
  if (read.unreadable) return { shape: 'dash', word: t('activity.unreadable') }
  if (read.happening) return { shape: 'cross', word: t(`doing.happenings.${read.happening}`) }
  if (read.reason === null) return { shape: 'ring', word: t('activity.atDesk') }
  return { shape: read.reason === 'granted' ? 'disc' : 'cross', word: t(`reasons.${read.reason}`) }
}
