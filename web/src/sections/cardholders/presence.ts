import { useIntervalFn } from '@vueuse/core'
import { readonly, ref } from 'vue'

import { client } from '@/api/client'

const TOLD_EVERY_MS = 8000

/** The other operators who have this cardholder open just now. */
export function useOthers(id: number | null) {
  const others = ref<readonly string[]>([])
  const page = crypto.randomUUID()
  async function tell() {
    if (id === null || document.hidden) return
    const { data } = await client.POST('/api/cardholders/{id}/here/', {
      params: { path: { id } },
      body: { page },
    })
    if (data) others.value = data.others
  }
  useIntervalFn(() => void tell(), TOLD_EVERY_MS, { immediateCallback: true })
  return readonly(others)
}
