import { type Problem, Refusal } from '@/api/client'

/** What is wrong, from whatever was thrown. */
export const problemsIn = (error: unknown): Problem[] =>
  error instanceof Refusal ? error.problems : [{ code: 'request.failed', field: null, params: {} }]
