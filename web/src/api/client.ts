import createClient from 'openapi-fetch'
import { reaching } from './connection'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Row = Schemas['Row']
export type RowType = Row['type']
export type RowOf<T extends RowType> = Extract<Row, { type: T }>
export type Problem = Schemas['ProblemData']
export type EditDone = Schemas['EditDone']
export type ChangeAsked = Schemas['ChangeAsked']

/** What the server refuses: RFC 9457 with our problems. */
export interface Refusal {
  status: number
  title: string
  detail: string
  problems: Problem[]
  uses?: { record: number; place: string }[]
  yours?: Record<string, unknown>
  theirs?: Row
}

export class RefusedError extends Error {
  constructor(readonly refusal: Refusal) {
    super(refusal.detail)
  }
}

/** What only reads is read again until the server can be reached. */
const patient = (request: Request): Promise<Response> =>
  request.method === 'GET' ? reaching(() => fetch(request.clone())) : fetch(request)

export const api = createClient<paths>({ baseUrl: '', fetch: patient })

/** The data of an answer; a refusal is thrown as `RefusedError`. */
export function answered<T>(result: { data?: T; error?: unknown; response: Response }): T {
  if (result.response.ok) return result.data as T
  const refusal = result.error as Refusal | undefined
  throw new RefusedError(
    refusal?.problems
      ? refusal
      : {
          status: result.response.status,
          title: 'Not answered',
          detail: `The server answered ${result.response.status}.`,
          problems: [
            {
              code: 'unanswered',
              message: 'The server did not answer as it should.',
              fix: 'Try again; if it stays, look at the server’s own messages.',
              path: '',
            },
          ],
        },
  )
}

/** The name of this browser tab for the edit service; kept over reloads. */
export function tabName(): string {
  const known = sessionStorage.getItem('vocanta-tab')
  if (known) return known
  const made = crypto.randomUUID()
  sessionStorage.setItem('vocanta-tab', made)
  return made
}
