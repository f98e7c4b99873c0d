/** Codebook entries and a table for tests. */
import type { Crosstab, Entry, Variable } from '@/api/types'

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
      ...changes,
    },
    version: 1,
    reason: '',
    to_look_at: [],
    made_from: [],
    summary: {
      kind: 'categories',
      counts: labels.map(() => 10),
      different: labels.length,
      missing: [],
      n_missing: 0,
    },
  }
}

export const table = {
  rows: [
    { value: 'piped', label: 'Piped' },
    { value: 'river', label: 'River' },
  ],
  columns: [
    { value: 'no', label: 'No' },
    { value: 'yes', label: 'Yes' },
  ],
  n: 1308,
  counts: [
    [849, 118],
    [234, 107],
  ],
  row_totals: [967, 341],
  column_totals: [1083, 225],
  share_within_row: [
    [0.878, 0.122],
    [0.686, 0.314],
  ],
  share_within_column: [
    [0.784, 0.524],
    [0.216, 0.476],
  ],
  expected_counts: [
    [800.7, 166.3],
    [282.3, 58.7],
  ],
  adjusted_residuals: [
    [8.07, -8.07],
    [-2.5, 2.5],
  ],
  adjusted_residuals_p_adjusted: [
    [0, 0],
    [0.02, 0.2],
  ],
  event_by_group: { event: ['yes'] },
} as unknown as Crosstab
