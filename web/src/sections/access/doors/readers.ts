import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { controllers } from '@/api/queries'
import { places } from '@/sections/setup/queries'

/** The readers beside doors, each with whether its controller answers. */
export function useReadersOfDoors() {
  const { data: everywhere } = useQuery(places)
  const { data: known } = useQuery(controllers)
  const failedAt = computed(() => new Map((known.value ?? []).map((one) => [one.id, one.failed_at])))
  const readersOf = (door: number) =>
    (everywhere.value?.readers ?? [])
      .filter((one) => one.door_id === door)
      .map((one) => ({ ...one, silentSince: failedAt.value.get(one.controller_id) ?? null }))
  const isSilent = (door: number) => readersOf(door).some((one) => one.silentSince !== null)
  return { readersOf, isSilent }
}
