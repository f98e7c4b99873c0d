/** The first table: cells as they are printed, and rows for programs that take tabs. */
import { describe, expect, it } from 'vitest'

import { cellsInWords, linesOf } from '@/screens/ask/overview/firstTable'

describe('the first table', () => {
  it.each([
    [[{ n: 95, share: 0.2811, middle: null, spread: [] }], ['95 (28.1%)']],
    [[{ n: 1234, share: null, middle: null, spread: [] }], ['1,234']],
    [
      [
        { n: 9, share: null, middle: 46.5, spread: [15.62] },
        { n: 0, share: null, middle: null, spread: [] },
        { n: 7, share: null, middle: 45.83, spread: [15.6] },
      ],
      ['46.5 (15.6)', '0', '45.8 (15.6)'],
    ],
    [[{ n: 9, share: null, middle: 45, spread: [35, 56] }], ['45 (35 to 56)']],
    [[{ n: 9, share: null, middle: 0.3333, spread: [0.1] }], ['0.33 (0.10)']],
    [[{ n: 9, share: null, middle: 3161.4, spread: [1960] }], ['3,161 (1,960)']],
  ])('%o', (cells, words) => expect(cellsInWords({ cells })).toEqual(words))

  it('becomes rows of texts, as wide as its head', () => {
    const cell = { n: 3, share: 0.5, middle: null, spread: [] }
    const line = {
      variable: 's',
      title: 'Source',
      level: 'River',
      n_missing: 0,
      p: 0.04,
      test: null,
    }
    const rows = linesOf({
      outcome: 'Ill',
      weighted: true,
      within: 'outcome',
      numbers: 'mean',
      columns: [
        { label: 'Yes', n: 6, share: 0.75 },
        { label: 'All', n: 9, share: 1 },
      ],
      lines: [{ ...line, cells: [cell, cell] }],
    })
    expect(new Set(rows.map((row) => row.length))).toEqual(new Set([4]))
    expect(rows[1]).toEqual(['', 'Yes, n = 6 (75.0%)', 'All, n = 9 (100.0%)', 'p'])
    expect(rows.at(-1)).toEqual(['Source: River', '3 (50.0%)', '3 (50.0%)', '0.04'])
  })
})
