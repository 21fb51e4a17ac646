import { queryOptions } from '@tanstack/vue-query'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'

export type Calendar = components['schemas']['HolidayCalendarShape']
export type Day = components['schemas']['DayShape']
export type Kind = components['schemas']['Kind']
export type FoundDay = components['schemas']['FoundDay']

export const MINUTES_A_DAY = 1440

export const holidays = queryOptions({
  queryKey: keyOf('schedules', 'holidays'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/holidays/', { signal })),
})
