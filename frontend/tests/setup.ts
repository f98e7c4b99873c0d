/** What happy-dom lacks and Vuetify needs. */
import { enableAutoUnmount } from '@vue/test-utils'
import { afterEach } from 'vitest'

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
enableAutoUnmount(afterEach)
