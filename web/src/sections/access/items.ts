import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'

import type { OpenSpan } from '@/api/client'
import { groups as allGroups, house, schedules as allSchedules } from '@/api/queries'
import { litIn } from '@/kit/time/hours'
import type { Shape } from '@/kit/controls/StateMark.vue'
import { byName, t } from '@/words'

import { doorsNow, markOf, releaseGroups } from './doors/doors'
import { doorCount } from './groups/grants'
import { holidays as allHolidays } from './holidays/holidays'
import { QUESTIONS } from './questions/asked'
import { aboutReview, dueReviews, markOfReview, reviewAddress } from './reviews/reviews'

export const PARTS = [
  'groups',
  'schedules',
  'holidays',
  'doors',
  'plan',
  'emergencies',
  'questions',
  'reviews',
] as const
export type Part = (typeof PARTS)[number]

/** One line of the list on the left. */
export interface Item {
  id: number | string
  name: string
  about: string
  lit?: OpenSpan[]
  state?: { shape: Shape; word: string }
}

const ABOUT = {
  door: 'questions.aboutDoor',
  unused: 'questions.aboutUnused',
  alone: 'questions.aboutAlone',
  way: 'questions.aboutWay',
  compare: 'questions.aboutCompare',
  area: 'questions.aboutArea',
  person: 'questions.aboutPerson',
  group: 'questions.aboutGroup',
  instants: 'questions.aboutInstants',
  matrix: 'questions.aboutMatrix',
} as const

/** So many lines are seen at a glance. */
const FEW = 10

/** What there is to choose of each part, and what of it is sought; how doors stand, and reviews, are asked only where they are shown. */
export function useItems(part: Ref<Part>, sought: Ref<string | null>) {
  const shown = (one: Part) => computed(() => part.value === one)
  const { data: choices } = useQuery(house)
  const { data: groups } = useQuery(allGroups)
  const { data: schedules } = useQuery(allSchedules)
  const { data: holidays } = useQuery(allHolidays)
  const { data: emergencies } = useQuery(releaseGroups)
  const { data: reviews } = useQuery({ ...dueReviews, enabled: shown('reviews') })
  const { data: stand } = useQuery({ ...doorsNow, enabled: shown('doors') })

  const itemsOf: Record<Part, () => Item[]> = {
    groups: () =>
      byName(groups.value ?? [], (one) => one.name).map((one) => ({
        id: one.id,
        name: one.name,
        about: `${t('access.doorsOf', doorCount(one))}, ${t('access.members', one.member_count)}`,
      })),
    schedules: () =>
      byName(schedules.value ?? [], (one) => one.name).map((one) => ({
        id: one.id,
        name: one.name,
        about: t('access.usedBy', one.group_count),
        lit: litIn(one.hours),
      })),
    holidays: () =>
      byName(holidays.value?.calendars ?? [], (one) => one.name).map((one) => ({
        id: one.id,
        name: one.name,
        about: `${t('holidays.count', one.days.length)}, ${t('holidays.usedBy', one.schedule_count)}`,
      })),
    doors: () => {
      const now = new Map((stand.value ?? []).map((one) => [one.id, markOf(one)]))
      return (choices.value?.doors ?? []).map((one) => ({
        id: one.id,
        name: one.name,
        about: `${one.area_name}, ${one.site_name}`,
        state: now.get(one.id),
      }))
    },
    plan: () =>
      (choices.value?.sites ?? []).map((one) => ({
        id: one.id,
        name: one.name,
        about: t('plan.about', choices.value?.doors.filter((door) => door.site_id === one.id).length ?? 0),
      })),
    emergencies: () =>
      (emergencies.value ?? []).map((one) => ({
        id: one.id,
        name: one.name,
        about: t('doing.doorCount', one.door_ids.length),
        state: one.releases.some((release) => release.ended_at === null)
          ? { shape: 'disc', word: t('doing.on') }
          : undefined,
      })),
    questions: () => QUESTIONS.map((one) => ({ id: one, name: t(`questions.${one}`), about: t(ABOUT[one]) })),
    reviews: () =>
      (reviews.value ?? []).map((one) => ({
        id: reviewAddress(one),
        name: one.name,
        about: one.kind === 'door' ? t('reviews.door', { about: aboutReview(one) }) : aboutReview(one),
        state: markOfReview(one),
      })),
  }
  const all = computed(() => itemsOf[part.value]())
  const found = computed(() => {
    const text = (sought.value ?? '').trim().toLowerCase()
    return all.value.filter((one) => `${one.name} ${one.about}`.toLowerCase().includes(text))
  })
  return { found, isLong: computed(() => all.value.length > FEW || !!sought.value) }
}
