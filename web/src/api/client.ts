import createClient, { type Middleware } from 'openapi-fetch'

import type { components, paths } from './schema'

type Schemas = components['schemas']
export type CardholderRow = Schemas['Row']
export type CardDraft = Schemas['CardShape']
export type Consequences = Schemas['CardholderPreviewShape']
export type Controller = Schemas['ControllerShape']
export type Line = Schemas['LineShape']
export type BenchController = Schemas['BenchController']
export type BenchMail = Schemas['BenchMail']
export type DoorReach = Schemas['DoorReachShape']
export type FileDraft = Schemas['CardholderShape']
export type Gap = Schemas['Gap']
export type Group = Schemas['Group']
export type GroupDraft = Schemas['GroupShapeRequest']
export type HistoryEntry = Omit<Schemas['HistoryAct'], 'can_be_undone'> &
  Partial<Pick<Schemas['HistoryAct'], 'can_be_undone'>>
export type House = Schemas['House']
export type OpenSpan = Schemas['OpenSpan']
export type MembershipDraft = Schemas['MembershipShape']
export type Permission = Schemas['PermissionsEnum']
export type Problem = Schemas['ProblemShape']
export type Read = Schemas['ReadShape']
export type Readiness = Schemas['ReadinessShape']
export type Reason = Schemas['Reason']
export type SavedFile = Schemas['SavedCardholder']
export type Schedule = Schemas['Schedule']
export type ScheduleDraft = Schemas['ScheduleShapeRequest']
export type Session = Schemas['SessionShape']
export type State = Schemas['State']
export type ToSend = Schemas['ToSendShape']
export type UnknownCard = Schemas['UnknownCard']
export type Explanation = Schemas['ExplanationShape']

/** A refusal, as the API tells it: every problem with its code and field. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly problems: Problem[],
    readonly since: HistoryEntry[] = [],
  ) {
    super(problems[0]?.code ?? `status ${status}`)
  }
}

interface ProblemBody {
  problems: Problem[]
  since?: HistoryEntry[]
}

function isProblemBody(body: unknown): body is ProblemBody {
  return typeof body === 'object' && body !== null && 'problems' in body && Array.isArray(body.problems)
}

function cookie(name: string): string {
  const found = document.cookie.split('; ').find((one) => one.startsWith(`${name}=`))
  return found?.slice(name.length + 1) ?? ''
}

const csrf: Middleware = {
  onRequest({ request }) {
    if (!['GET', 'HEAD'].includes(request.method)) request.headers.set('X-CSRFToken', cookie('csrftoken'))
    return request
  },
}

/** When somebody last touched the page: what it asks by itself keeps no session going. */
let touchedAt = Date.now()
for (const event of ['keydown', 'pointerdown', 'wheel'])
  window.addEventListener(event, () => (touchedAt = Date.now()), { capture: true, passive: true })
export const minutesUntouched = () => (Date.now() - touchedAt) / 60_000

const presence: Middleware = {
  onRequest({ request }) {
    if (minutesUntouched() < 1) request.headers.set('X-Present', '1')
    return request
  },
}

export const client = createClient<paths>({ baseUrl: '', credentials: 'same-origin' })

type Told = (status: number) => void
const tellWhenShut: Told[] = []
/** Be told when the API does not let the operator in, or not do something. */
export const whenShut = (told: Told) => tellWhenShut.push(told)
const shut: Middleware = {
  onResponse({ response }) {
    if ([401, 403].includes(response.status)) tellWhenShut.forEach((told) => told(response.status))
    return undefined
  },
}
client.use(csrf, presence, shut)

/** Give the answer, or throw the Refusal. */
export async function unwrap<T>(
  asked: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  const { data, error, response } = await asked
  if (response.ok) return data as T
  throw isProblemBody(error)
    ? new Refusal(response.status, error.problems, error.since)
    : new Refusal(response.status, [{ code: 'request.failed', field: null, params: {} }])
}
