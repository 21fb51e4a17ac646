import type { House } from '@/api/client'
import { t } from '@/words'

export type Policy = House['readers'][number]['policy']
export type Factor = Policy[number][number]

/** Factors that are presented together, in words. */
export const togetherWords = (together: readonly Factor[]) =>
  together.map((factor) => t(`factors.${factor}`)).join(` ${t('factors.and')} `)

/** What a reader asks for, in words. */
export const policyWords = (policy: Policy) => policy.map(togetherWords).join(` ${t('factors.or')} `)
