import { useRouteQuery } from '@vueuse/router'
import type { Ref } from 'vue'

/** A filter that stands in the address: one comes back to it, and can send it to somebody. */
export const textInAddress = (name: string): Ref<string | null> =>
  useRouteQuery<string | null, string | null>(name, null, {
    transform: { get: (value) => value || null, set: (value) => value || null },
  })

/** The same for a number. */
export const numberInAddress = (name: string): Ref<number | null> =>
  useRouteQuery<string | null, number | null>(name, null, {
    transform: {
      get: (value) => (/^\d+$/.test(value ?? '') ? Number(value) : null),
      set: (value) => (value === null ? null : String(value)),
    },
  })

/** Something that is unfolded, or not. */
export const flagInAddress = (name: string): Ref<boolean> =>
  useRouteQuery<string | null, boolean>(name, null, {
    transform: { get: (value) => value !== null, set: (value) => (value ? '1' : null) },
  })

/** What is chosen in a list, or that something new is being made. */
export const chosenInAddress = (name = 'id'): Ref<number | 'new' | null> =>
  useRouteQuery<string | null, number | 'new' | null>(name, null, {
    transform: {
      get: (value) => (value === 'new' ? 'new' : /^\d+$/.test(value ?? '') ? Number(value) : null),
      set: (value) => (value === null ? null : String(value)),
    },
  })
