import type { components } from '@/api/schema'
import { cardWords } from '@/kit/said/card'
import { t } from '@/words'

/** Say what opens nothing at a controller, as it has no room for it; nothing when it has. */
export function leftOutWords(record: components['schemas']['CardholderDelivery']): string[] {
  const { name } = record
  return [
    record.left_out.length
      ? t('file.leftOut', { name, cards: record.left_out.map(cardWords).join(', ') })
      : '',
    record.is_without_templates ? t('file.withoutTemplates', { name }) : '',
  ].filter(Boolean)
}
