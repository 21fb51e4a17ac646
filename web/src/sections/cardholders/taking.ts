import { useQueryClient } from '@tanstack/vue-query'
import { useToast } from 'primevue/usetoast'
import { computed, inject, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import type { Read } from '@/api/client'
import { coming } from '@/api/queries'
import { isSameCard } from '@/kit/said/card'
import { useNextRead } from '@/kit/state/next-read'
import { problemsIn } from '@/kit/state/problems'
import { useReads } from '@/kit/state/reads'
import { useSession } from '@/kit/state/session'
import { cardOf, readUser } from '@/kit/state/use-read'
import { t, wordsFor } from '@/words'

import { newMembership } from './membership'

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
  const mayTake = mayChange && session.may('issue')
  const reads = useReads()
  /** The newest read when this was opened: what came before it may be meant for somebody else. */
  const openedAfter = ref(reads.reads[0]?.id ?? 0)
  if (!openedAfter.value)
    watch(
      () => reads.reads[0]?.id,
      (first) => (openedAfter.value = first ?? 0),
      { once: true },
    )
  const next = useNextRead(takeRead)
  const isOfAnother = (read: Read) => read.holder_id !== null && read.holder_id !== id
  const tellHolder = (read: Read) =>
    toast.add({ severity: 'warn', summary: t('strip.hasIt', { name: read.holder_name }), life: 5000 })
  /** The newest read, shown before this was opened: taken only when it is asked for once more. */
  const older = computed(() =>
    reads.newest && reads.newest.id <= openedAfter.value && !isOfAnother(reads.newest) && cardOf(reads.newest)
      ? reads.newest
      : null,
  )
  function use(newest: Read | undefined) {
    if (!mayTake) {
      if (newest) takeRead(newest)
    } else if (newest && newest.id > openedAfter.value) takeRead(newest)
    else if (next.isWaiting.value && newest) takeRead(newest)
    else {
      if (newest && isOfAnother(newest)) tellHolder(newest)
      next.begin(true)
      document.getElementById('cards')?.scrollIntoView({ block: 'nearest' })
    }
  }
  function takeRead(read: Read) {
    next.end()
    if (!mayTake) {
      // whoever may not issue it is shown whose it is
      if (read.holder_id) void router.push({ name: 'cardholder', params: { id: read.holder_id } })
      return
    }
    const card = cardOf(read)
    if (!card) toast.add({ severity: 'warn', summary: t('strip.notCard'), life: 4000 })
    else if (read.holder_id === id && id !== null) showCards()
    else if (isOfAnother(read)) tellHolder(read)
    else void addCard(card)
  }
  /** What is still to come into the draft: a save waits for it. */
  let arriving = Promise.resolve()
  function addCard(card: NonNullable<ReturnType<typeof cardOf>>) {
    return (arriving = add(card).catch((error: unknown) => {
      toast.add({ severity: 'error', summary: problemsIn(error).map(wordsFor).join(' '), life: 6000 })
    }))
  }
  async function add(card: NonNullable<ReturnType<typeof cardOf>>) {
    // one that is only lent goes back by itself at night
    const lent = onlyToday.value
      ? { is_temporary: true, expiry_at: (await queries.fetchQuery(coming)).end_of_day }
      : {}
    if (!file.draft.value) return
    next.end()
    if (file.draft.value.cards.some((one) => isSameCard(one, card))) return
    file.draft.value.cards.push({ ...card, ...lent })
    onlyToday.value = false
  }
  /** Put them into a group that they are not in: an act that was proposed elsewhere. */
  function joinGroup(group: number) {
    const memberships = file.draft.value?.memberships
    if (!memberships?.some((one) => one.group === group)) memberships?.push(newMembership(group))
  }
  const taker = inject(readUser)
  const name = () => {
    const { first_name = '', last_name = '' } = file.draft.value ?? {}
    return `${first_name} ${last_name}`.trim() || t('file.new')
  }
  onMounted(() => taker && (taker.value = { take: takeRead, use, name: mayTake ? name : null }))
  onBeforeUnmount(() => taker && (taker.value = null))

  return { arrived: () => arriving, onlyToday, next, older, use, takeRead, addCard, joinGroup }
}
