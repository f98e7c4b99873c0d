/** The one client of the server's API. Errors arrive as Problem. */
import createClient from 'openapi-fetch'

import { patientFetch } from './patience'
import type { paths } from './schema'
import type { ProblemDetails } from './types'

/** An error the server described (RFC 9457), with a message for the researcher. */
export class Problem extends Error {
  constructor(public readonly details: ProblemDetails) {
    super(details.detail)
  }

  get status(): number {
    return this.details.status
  }

  /** The slot, field, line or column that the problem concerns. */
  where(key: string): string | undefined {
    const value = this.details.where?.[key]
    return value == null ? undefined : String(value)
  }
}

export function csrfToken(): string {
  return document.cookie.match(/(?:^|; )csrftoken=([^;]*)/)?.[1] ?? ''
}

export const client = createClient<paths>({
  baseUrl: '/',
  credentials: 'same-origin',
  fetch: patientFetch,
})

client.use({
  onRequest({ request }) {
    if (!['GET', 'HEAD'].includes(request.method)) request.headers.set('X-CSRFToken', csrfToken())
    return request
  },
})

type Result<T> = { data?: T; error?: unknown; response: Response }

/** What `patientFetch` never lets through. */
type StillWorking = { still_working: true }

/** The data of a call, or its Problem thrown. */
export async function unwrap<T>(call: Promise<Result<T>>): Promise<Exclude<T, StillWorking>> {
  let result: Result<T>
  try {
    result = await call
  } catch {
    throw new Error('Hobrix cannot be reached. What you did last may not be saved.')
  }
  if (result.response.ok) return result.data as Exclude<T, StillWorking>
  throw asProblem(result.error, result.response.status)
}

export function asProblem(body: unknown, status: number): Problem {
  if (typeof body === 'object' && body !== null && 'detail' in body)
    return new Problem(body as ProblemDetails)
  const detail = 'The server did not say what went wrong.'
  return new Problem({
    type: 'about:blank',
    title: 'Error',
    status,
    detail,
    where: {},
    remedies: [],
  })
}
