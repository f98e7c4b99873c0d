/** Requests that take long are asked again until they are done. */
import { afterEach, beforeEach, expect, it, vi } from 'vitest'

import { patientFetch, WORK } from '@/api/patience'

const said = (status: number, body: unknown, headers: Record<string, string> = {}) =>
  new Response(JSON.stringify(body), { status, headers })
const later = () => said(202, { still_working: true }, { [WORK]: 'under way' })
const asked: Request[] = []
let replies: Response[]

beforeEach(() => {
  vi.useFakeTimers()
  asked.length = 0
  vi.stubGlobal('fetch', async (request: Request) => {
    asked.push(request)
    return replies.shift()!
  })
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

const question = (signal?: AbortSignal) =>
  new Request('http://hobrix.test/answer', { method: 'POST', body: '{"a": 1}', signal })

it('asks again under the same name, with the same question, until there is an answer', async () => {
  replies = [later(), later(), said(200, { answer: 42 })]
  const given = patientFetch(question())
  await vi.advanceTimersByTimeAsync(2000)
  expect(await (await given).json()).toEqual({ answer: 42 })
  expect(asked).toHaveLength(3)
  expect(new Set(asked.map((each) => each.headers.get(WORK))).size).toBe(1)
  expect(await Promise.all(asked.map((each) => each.text()))).toEqual(Array(3).fill('{"a": 1}'))
})

it('names each request by itself', async () => {
  replies = [said(200, {}), said(422, {})]
  expect((await patientFetch(question())).status).toBe(200)
  expect((await patientFetch(question())).status).toBe(422)
  expect(asked[0]!.headers.get(WORK)).not.toBe(asked[1]!.headers.get(WORK))
})

it('a job that was queued is no answer to wait for', async () => {
  replies = [said(202, { id: 'job' })]
  expect((await patientFetch(question())).status).toBe(202)
  expect(asked).toHaveLength(1)
})

it('who does not wait any more asks no more', async () => {
  replies = [later(), later()]
  const leaving = new AbortController()
  const given = patientFetch(question(leaving.signal))
  const failed = expect(given).rejects.toThrow()
  await vi.advanceTimersByTimeAsync(100)
  leaving.abort()
  await vi.advanceTimersByTimeAsync(5000)
  await failed
  expect(asked).toHaveLength(1)
})
