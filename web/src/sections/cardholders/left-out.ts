import type { components } from '@/api/schema'
import { cardWords } from '@/kit/card'
import { t } from '@/words'

/** Say which cards open nothing at a controller, as it has no room for them; nothing when it has. */
export function leftOutWords(record: components['schemas']['CardholderDelivery']): string[] {
  if (!record.left_out.length) return []
  return [t('file.leftOut', { name: record.name, cards: record.left_out.map(cardWords).join(', ') })]
}
