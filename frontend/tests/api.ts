/** The server's API as components see it in tests: each test says what comes back (set up in `setup.ts`). */
import { vi } from 'vitest'

export const api = {
  GET: vi.fn(),
  POST: vi.fn(),
  PUT: vi.fn(),
  PATCH: vi.fn(),
  DELETE: vi.fn(),
}
