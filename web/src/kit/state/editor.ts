import { computed, reactive, ref, watch } from 'vue'

import type { Problem } from '@/api/client'

import { useKept } from './kept'
import { useSave } from './save'

interface Beginning<T> {
  /** What something new begins with, and what is not typed yet. */
  start?: Partial<T>
  live?: () => Problem[]
}

const copyOf = <T>(value: T) => JSON.parse(JSON.stringify(value)) as T

/**
 * The editor of one thing that the house is made of, or of a new one: what is typed is kept in this tab until it is
 * saved or discarded, and taken up again.
 */
export function useEditor<T extends object>(
  what: string,
  id: number | undefined,
  begin: () => T,
  { start = {}, live }: Beginning<T> = {},
) {
  const saving = useSave(live)
  const kept = useKept(`${what}.${id ?? 'new'}`, begin)
  const isTakenUp = ref(kept.value !== null)
  const draft = reactive({ ...begin(), ...start, ...copyOf(kept.value) }) as T

  const written = computed(() => JSON.stringify(draft))
  const base = ref(JSON.stringify(begin()))
  const isDirty = computed(() => written.value !== base.value)
  watch(written, (text) => (kept.value = isDirty.value ? (JSON.parse(text) as T) : null))
  /** How often it was begun anew: fields that hold what was written begin anew with it. */
  const begun = ref(0)
  function discard() {
    Object.assign(draft, begin())
    // the editor may be gone before it is told of the change
    kept.value = null
    begun.value += 1
    isTakenUp.value = false
  }

  async function act<T>(asked: () => Promise<T>): Promise<T | undefined> {
    const sent = written.value
    const answer = await saving.act(asked)
    if (answer === undefined) return undefined
    if (written.value === sent) kept.value = null
    base.value = sent
    isTakenUp.value = false
    return answer
  }
  return { ...saving, act, draft, isDirty, isNew: id === undefined, isTakenUp, begun, discard }
}

/** What an editor's foot needs to know of it. */
export type Editor = Omit<ReturnType<typeof useEditor>, 'draft'>
