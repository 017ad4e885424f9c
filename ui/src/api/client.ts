import createClient from 'openapi-fetch'
import { dateOrder, timeZone } from '../support/dated'
import { decimalSign } from '../support/decimal'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Recipe = Schemas['Recipe']
export type Portion = Schemas['Portion']
export type Forecast = Schemas['Forecast']
export type StepForecast = Schemas['StepForecast']
export type Weights = Schemas['Weights']
export type RecipeForecast = Schemas['RecipeForecast']
export type Sheet = Schemas['Sheet']
export type Line = Schemas['Line']
export type Act = Schemas['Adjust']['act']
export type Fault = Schemas['Fault']
export type Mend = Schemas['Mend']
export type Caution = Schemas['Caution']
export type Shelf = Schemas['ShelfView']
export type PourView = Schemas['PourView']
export type Fragrance = Schemas['Fragrance']
export type FragranceFile = Schemas['FragranceFile']
export type NewFragrance = Schemas['NewFragrance']
export type PourEvent = Schemas['Tap']['event']
export type Problem = Schemas['Problem']

/** What the server answered when it would not; `problem` names the fields at fault. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
}

/** The server did not answer at all. */
export class Unreachable extends Error {
  constructor() {
    super('Round Stone does not answer. What you entered is kept here; it goes on when the app is back.')
  }
}

const ASK_AGAIN = 3000 // ms

/** How soon a query is asked again: what found the server away soon, and anything else as it usually is. */
export const orSoon = (usual: number | false) => (query: { state: { error: Error | null } }) =>
  query.state.error instanceof Unreachable ? ASK_AGAIN : usual

/** Something wrong that was found here, said as the server says it. */
export const fault = (pointer: string, message: string): Fault => ({
  pointer,
  message,
  mends: [],
  open: false,
})

const PATIENCE = 15_000 // ms after which a request counts as unanswered

/** What the server's sentences are told in, beside the workshop's units. */
const SPOKEN = { 'X-Decimal-Sign': decimalSign(), 'X-Date-Order': dateOrder(), 'X-Time-Zone': timeZone() }

export const api = createClient<paths>({
  baseUrl: '',
  headers: SPOKEN,
  fetch: (request: Request) =>
    fetch(request, { signal: AbortSignal.any([request.signal, AbortSignal.timeout(PATIENCE)]) }),
})

/** Send a form with a file in it, which has its own way over the wire. */
export async function send<T>(path: string, form: FormData): Promise<T> {
  return take<T>(
    fetch(path, { method: 'POST', body: form, headers: SPOKEN }).then(async (response) => {
      const said = (await response.json().catch(() => undefined)) as unknown
      return response.ok ? { data: said as T, response } : { error: said ?? {}, response }
    }),
  )
}

/** A file of the server's; Refused where it gives none. */
export async function fetched(path: string): Promise<Response> {
  return take<Response>(
    fetch(path, { headers: SPOKEN }).then(async (response) =>
      response.ok
        ? { data: response, response }
        : { error: (await response.json().catch(() => ({}))) as unknown, response },
    ),
  )
}

/** Told when this device is not let in (any more). */
export const door = { shut: () => {} }

/** The answer's data, or Refused, or Unreachable; an abort passes through. */
export async function take<T>(
  request: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let answer
  try {
    answer = await request
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error
    throw new Unreachable()
  }
  if (answer.error !== undefined || !answer.response.ok) {
    const problem = answer.error as Partial<Problem> | undefined
    if (answer.response.status === 401) door.shut()
    throw new Refused({
      type: 'about:blank',
      title: problem?.title ?? 'Refused',
      status: answer.response.status,
      detail: problem?.detail ?? 'The server refused this without saying why.',
      errors: problem?.errors ?? [],
      sure: problem?.sure ?? false,
    })
  }
  return answer.data as T
}
