import { useMemoize } from '@vueuse/core'

/** A format for days and times: each is made once, as making one takes far longer than using it. */
export const dateFormat = useMemoize(
  (tag: string, options: Intl.DateTimeFormatOptions) => new Intl.DateTimeFormat(tag, options),
)
