import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useToast } from 'primevue/usetoast'
import {
  computed,
  type InjectionKey,
  inject,
  type MaybeRefOrGetter,
  provide,
  readonly,
  ref,
  shallowRef,
  toValue,
} from 'vue'

import { client, type Problem, Refusal, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'
import { problemsIn } from '@/kit/state/problems'
import { t } from '@/words'

export type Intake = components['schemas']['IntakeShape']
export type IntakeInShort = components['schemas']['IntakeInShort']
export type Choices = components['schemas']['ChoicesShape']
export type ColumnChoice = components['schemas']['ColumnChoiceShape']
export type FaultGroup = components['schemas']['FaultGroup']
export type IntakeRow = components['schemas']['IntakeRow']
export type RowState = components['schemas']['IntakeRowState']

const AT_WORK = ['applying', 'stopping', 'undoing']
export const isAtWork = (intake: Pick<Intake, 'state'>) => AT_WORK.includes(intake.state)

/** An intake, what is decided about it, and what became of each decision: kept by the server at once. */
export function useIntake(id: MaybeRefOrGetter<number>) {
  const queries = useQueryClient()
  const toast = useToast()
  const key = computed(() => keyOf('intakes', 'one', toValue(id)))
  const path = () => ({ params: { path: { id: toValue(id) } } })
  const { data: intake, isError } = useQuery({
    queryKey: key,
    queryFn: ({ signal }) => unwrap(client.GET('/api/intakes/{id}/', { ...path(), signal })),
    refetchInterval: ({ state }) => {
      const found = state.data
      if (!found) return false
      return isAtWork(found) || (found.state === 'open' && !found.is_assessed && !found.failed) ? 600 : false
    },
  })
  const isBusy = ref(false)
  const problems = shallowRef<Problem[]>([])

  /** One request after the other: each is about what the one before came to. */
  let before: Promise<unknown> = Promise.resolve()
  function queue<T>(act: () => Promise<T>): Promise<T> {
    const done = before.then(act)
    before = done
    return done
  }
  const ask = (asked: () => Promise<unknown>) => queue(() => askNow(asked))

  /** Ask the server for something that changes the intake, and look at it anew. */
  async function askNow(asked: () => Promise<unknown>): Promise<boolean> {
    isBusy.value = true
    problems.value = []
    try {
      await asked()
      return true
    } catch (error) {
      problems.value = problemsIn(error)
      if (error instanceof Refusal && error.status === 409)
        toast.add({ severity: 'warn', summary: t('intake.changedByOther'), life: 6000 })
      return false
    } finally {
      await queries.invalidateQueries({ queryKey: keyOf('intakes') })
      isBusy.value = false
    }
  }

  /** Change what is decided; what it then comes to is the answer. */
  const decide = (change: (choices: Choices) => void) => queue(() => decideNow(change))
  async function decideNow(change: (choices: Choices) => void): Promise<boolean> {
    const now = intake.value
    if (!now) return false
    const kept = JSON.stringify(now.choices)
    const choices = JSON.parse(kept) as Choices
    change(choices)
    if (JSON.stringify(choices) === kept) return true
    return askNow(async () => {
      const body = { version: now.version, choices }
      queries.setQueryData(key.value, await unwrap(client.PUT('/api/intakes/{id}/', { ...path(), body })))
    })
  }
  const version = () => ({ version: intake.value?.version ?? 0 })
  const apply = () =>
    ask(() => unwrap(client.POST('/api/intakes/{id}/apply/', { ...path(), body: version() })))
  const stop = () => ask(() => unwrap(client.POST('/api/intakes/{id}/stop/', path())))
  const undo = () => ask(() => unwrap(client.POST('/api/intakes/{id}/undo/', path())))
  const discard = () => ask(() => unwrap(client.DELETE('/api/intakes/{id}/', path())))
  const leaveOut = (group: Pick<FaultGroup, 'column' | 'code'>) =>
    ask(() =>
      unwrap(
        client.POST('/api/intakes/{id}/left-out/', {
          ...path(),
          body: { ...version(), column: group.column, code: group.code },
        }),
      ),
    )
  const addPhotos = (file: File) => ask(() => sendPhotos(toValue(id), file))
  const saveMapping = (name: string) =>
    ask(() => unwrap(client.POST('/api/intakes/{id}/mapping/', { ...path(), body: { name } })))
  const takeMapping = (mapping: number) =>
    ask(() =>
      unwrap(client.POST('/api/intakes/{id}/use-mapping/', { ...path(), body: { ...version(), mapping } })),
    )
  const isOpen = computed(() => intake.value?.state === 'open')
  return {
    intake,
    isError,
    isOpen,
    isBusy: readonly(isBusy),
    problems: readonly(problems),
    ask,
    decide,
    apply,
    stop,
    undo,
    discard,
    leaveOut,
    addPhotos,
    saveMapping,
    takeMapping,
  }
}

export type IntakeWork = ReturnType<typeof useIntake>
const theIntake: InjectionKey<IntakeWork> = Symbol('intake')
export const provideIntake = (work: IntakeWork) => provide(theIntake, work)
export function useTheIntake(): IntakeWork {
  const work = inject(theIntake)
  if (!work) throw new Error('no intake is open here')
  return work
}

function formOf(file: File): FormData {
  const form = new FormData()
  form.append('file', file, file.name)
  return form
}
// the client's types know a file as text; what goes out is the form itself
export const sendFile = (file: File) =>
  unwrap(client.POST('/api/intakes/', { body: { file: '' }, bodySerializer: () => formOf(file) }))
const sendPhotos = (id: number, file: File) =>
  unwrap(
    client.POST('/api/intakes/{id}/photos/', {
      params: { path: { id } },
      body: { file: '' },
      bodySerializer: () => formOf(file),
    }),
  )

/** Change the choice for a column; from then on it is decided and no guess. */
export function changeColumn(choices: Choices, n: number, change: Partial<ColumnChoice>) {
  choices.columns = choices.columns.map((one) =>
    one.column === n ? { ...one, ...change, is_guess: false } : one,
  )
}
