/** Codebook entries for tests. */
import type { Entry, Variable } from '@/api/types'

export function entry(name: string, labels: string[], changes: Partial<Variable> = {}): Entry {
  return {
    variable: {
      name,
      label: '',
      kind: 'nominal',
      categories: labels.map((label, i) => ({ value: String(i + 1), label })),
      missing: [],
      event: [],
      reference: null,
      unit: '',
      spellings: [],
      ...changes,
    },
    version: 1,
    reason: '',
    to_look_at: [],
    made_from: [],
    spelled_twice: [],
    summary: {
      kind: 'categories',
      counts: labels.map(() => 10),
      different: labels.length,
      missing: [],
      n_missing: 0,
    },
  }
}
