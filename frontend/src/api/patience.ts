/** Requests that the server works on for long: it says so, and is asked again until it is done. */

/** Names a request, so that it can be asked again, looked at and stopped. */
export const WORK = 'Hobrix-Work'
const PAUSE = 400

let made = 0
export const newWork = () => `${Date.now().toString(36)}-${(made += 1)}-${Math.random()}`

const pause = (signal: AbortSignal) =>
  new Promise<void>((resolve, reject) => {
    signal.throwIfAborted()
    const timer = setTimeout(resolve, PAUSE)
    signal.addEventListener('abort', () => {
      clearTimeout(timer)
      reject(signal.reason as Error)
    })
  })

/** `fetch` that waits for what takes long. Who aborts it is not waited for by the server either. */
export async function patientFetch(request: Request): Promise<Response> {
  if (!request.headers.has(WORK)) request.headers.set(WORK, newWork())
  for (;;) {
    const response = await fetch(request.clone())
    if (response.status !== 202 || !response.headers.has(WORK)) return response
    await pause(request.signal)
  }
}
