import { i18n } from '@/words'

/** Why a controller did not answer, as the worker noted it: a code, and for some a figure. */
export function failureWords(failure: string): string {
  const [code, figure] = failure.split(':')
  const key = `failures.${code}`
  return i18n.global.te(key) ? i18n.global.t(key, { figure }) : failure
}
