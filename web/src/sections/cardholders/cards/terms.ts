import type { CardDraft } from '@/api/client'
import { t } from '@/words'

/** What is said of a card beyond its numbers, where that is folded away. */
export const termsOf = (card: CardDraft) =>
  [
    card.label,
    card.is_temporary ? t('cardTerms.temporary') : '',
    card.is_watched ? t('cardTerms.watched') : '',
    card.use_limit ? t('cardTerms.uses', { count: card.use_limit }) : '',
    card.hours.length ? t('cardTerms.ownHours') : '',
    card.issue_level === null ? '' : t('cardTerms.level', { level: card.issue_level }),
  ]
    .filter(Boolean)
    .join(', ')
