import type { House } from '@/api/client'
import { t } from '@/words'

export type Policy = House['readers'][number]['policy']
export type Factor = Policy[number][number]

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1)

/** A factor by itself, as the label of something. */
export const factorLabel = (factor: Factor) => capital(t(`factors.${factor}`))

/** Factors that are presented together, in words. */
export const togetherWords = (together: readonly Factor[]) =>
  together.map((factor) => t(`factors.${factor}`)).join(` ${t('factors.and')} `)

/** What a reader asks for, in words. */
export const policyWords = (policy: Policy) => capital(policy.map(togetherWords).join(` ${t('factors.or')} `))
