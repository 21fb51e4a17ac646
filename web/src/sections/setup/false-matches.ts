import type { components } from '@/api/schema'
import { t } from '@/words'

type Rules = components['schemas']['BiometricSettingsShape']

/** Say how often two different ones are taken for one at a threshold, from 0 to 1. */
export function falseMatchWords(
  rules: Rules | undefined,
  factor: 'finger' | 'face',
  threshold: number,
): string {
  const hundredths = Math.round(threshold * 100)
  const found = rules?.false_matches[factor]?.find((one) => one.match === hundredths)
  if (!found) return rules ? t('biometricRules.notMeasured') : ''
  const words = found.is_fewer ? 'falseFewer' : 'falseOneIn'
  return t(`biometricRules.${words}`, { oneIn: found.one_in })
}
