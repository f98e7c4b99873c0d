/** What happy-dom lacks and Vuetify needs; the API that answers as a test says; nothing left of the test before,
 * as all files of a worker share their modules and their document. */
import { disableAutoUnmount, enableAutoUnmount } from '@vue/test-utils'
import { afterEach, beforeEach, vi } from 'vitest'

import { api } from './api'

vi.mock('@/api/client', async (original) => ({
  ...(await original<object>()),
  client: (await import('./api')).api,
  unwrap: (call: Promise<unknown>) => call,
}))

class FakeViewport extends EventTarget {
  width = 1280
  height = 800
  scale = 1
  offsetLeft = 0
  offsetTop = 0
  pageLeft = 0
  pageTop = 0
}

Object.assign(globalThis, { visualViewport: new FakeViewport() })
globalThis.ResizeObserver ??= class {
  observe() {}
  unobserve() {}
  disconnect() {}
}
beforeEach(() => Object.values(api).forEach((call) => call.mockReset()))
afterEach(() => {
  document.body.replaceChildren()
  localStorage.clear()
})
disableAutoUnmount()
enableAutoUnmount(afterEach)
