import { language } from '@/words'

/** A label that the site wrote in each language: the operator's, or the one that there is. */
export function labelOf(labels: Record<string, string>): string {
  return labels[language.value] || labels.en || Object.values(labels).find(Boolean) || ''
}
