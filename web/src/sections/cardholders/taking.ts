import { useQueryClient } from '@tanstack/vue-query'
import { useToast } from 'primevue/usetoast'
import { inject, onBeforeUnmount, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'

import type { Read } from '@/api/client'
import { coming } from '@/api/queries'
import { isSameCard } from '@/kit/card'
import { useSession } from '@/kit/session'
import { cardOf, readUser } from '@/kit/use-read'
import { t } from '@/words'

import type { useFileDraft } from './draft'

/** What a page of a cardholder does with a read, a card in hand, and a group that was proposed. */
export function useTaking(
  id: number | null,
  file: ReturnType<typeof useFileDraft>,
  mayChange: boolean,
  showCards: () => void,
) {
  const queries = useQueryClient()
  const router = useRouter()
  const toast = useToast()
  const session = useSession()

  const onlyToday = ref(false)
  function takeRead(read: Read) {
    if (!mayChange || !session.may('issue')) {
      // whoever may not issue it is shown whose it is
      if (read.holder_id) void router.push({ name: 'cardholder', params: { id: read.holder_id } })
      return
    }
    const card = cardOf(read)
    if (!card) toast.add({ severity: 'warn', summary: t('strip.notCard'), life: 4000 })
    else if (read.holder_id === id && id !== null) showCards()
    else if (read.holder_name)
      toast.add({ severity: 'warn', summary: t('strip.hasIt', { name: read.holder_name }), life: 5000 })
    else void addCard(card)
  }
  async function addCard(card: NonNullable<ReturnType<typeof cardOf>>) {
    // one that is only lent goes back by itself at night
    const lent = onlyToday.value
      ? { is_temporary: true, expiry_at: (await queries.fetchQuery(coming)).end_of_day }
      : {}
    if (!file.draft.value) return
    if (file.draft.value.cards.some((one) => isSameCard(one, card))) return
    file.draft.value.cards.push({ ...card, ...lent })
    onlyToday.value = false
  }
  /** Put them into a group that they are not in: an act that was proposed elsewhere. */
  function joinGroup(group: number) {
    const memberships = file.draft.value?.memberships
    if (!memberships?.some((one) => one.group === group))
      memberships?.push({ group, activation_at: null, expiry_at: null })
  }
  const taker = inject(readUser)
  onMounted(() => taker && (taker.value = takeRead))
  onBeforeUnmount(() => taker && (taker.value = null))

  return { onlyToday, takeRead, addCard, joinGroup }
}
