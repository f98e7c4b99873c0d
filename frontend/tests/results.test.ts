/** What the browser does with results: order, words and layers, never statistics. */
import { describe, expect, it } from 'vitest'

import { adjust } from '@/parts/figures'
import { cellsInWords, linesOf } from '@/screens/ask/firstTable'
import { measureLines, MEASURES, type Association } from '@/screens/ask/measures'
import { ofRows } from '@/screens/ask/pictures'
import { limitsOf, pointsOf, ratioOf, underTitle } from '@/screens/ask/shareWords'

describe('shares in words', () => {
  it('writes ratios, differences and limits one way', () => {
    expect([ratioOf(2.444), ratioOf('Infinity'), ratioOf(null)]).toEqual(['2.44', '∞', '—'])
    expect([pointsOf(-0.0213), pointsOf(0.166), pointsOf(undefined)]).toEqual(['−2.1', '16.6', '—'])
    expect(limitsOf([-0.02, 0.051], 100, 1)).toBe('−2.0 to 5.1')
    expect(limitsOf([1.2, 'Infinity'])).toBe('1.20 to ∞')
    expect(limitsOf(null)).toBe('')
  })
  it('drops a title only where it stands in front', () => {
    expect(underTitle('Home flooded: Yes', 'Home flooded')).toBe('Yes')
    expect(underTitle('River', 'Water source')).toBe('River')
  })
})

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

describe('measures', () => {
  const found = {
    value: 0.25,
    ase: 0.1,
    ase_null: 0.1,
    z: 2.5,
    p: 0.012,
    ci: [0.05, 0.45],
    ci_95: null,
  }
  const association = {
    ...Object.fromEntries(MEASURES.map(({ key }) => [key, found])),
    leading: 'gamma',
    cramers_v: 0.3,
    cramers_v_ci: [0.1, 0.5],
    phi: -0.3,
    lambda_symmetric: null,
  } as unknown as Association
  const titles = { rows: 'Water source', columns: 'Illness' }

  it('names outcome and group as the sentence does', () => {
    const lines = measureLines(association, true, titles)
    expect(lines).toHaveLength(MEASURES.length)
    const lambda = lines.find(({ title }) => title === 'lambda, Illness from Water source')
    expect(lambda?.says).toContain('knowing Water source spares')
    expect(lines.find(({ leads }) => leads)?.title).toBe('gamma')
    expect(lines.find(({ title }) => title === 'lambda, both ways')?.value).toBeNull()
  })
  it('leaves measures of order out where there is none', () => {
    const titlesLeft = measureLines(association, false, titles).map(({ title }) => title)
    expect(titlesLeft).not.toContain('gamma')
    expect(titlesLeft).toContain('Cramér’s V')
  })
})

describe('pictures', () => {
  it('take a title and a size without touching the original', () => {
    const spec = { width: 100, height: 50, layer: [] }
    expect(adjust(spec, { title: 'T', size: 140, palette: '', labels: {} })).toEqual({
      ...spec,
      title: 'T',
      width: 140,
      height: 70,
    })
    expect(adjust(spec, { title: '', size: 100, palette: 'grey', labels: {} })).toEqual(spec)
    expect(spec.width).toBe(100)
  })
  it('follow the order of the table, page by page', () => {
    const values = ['a', 'b', 'c'].map((value, at) => ({ at, value }))
    const spec = { height: 72, data: { values } }
    expect(ofRows(spec, ['c', 'a', 'b'])).toEqual({
      height: 72,
      data: { values: ['c', 'a', 'b'].map((value, at) => ({ at, value })) },
    })
    expect(ofRows(spec, ['b'])).toEqual({ height: 24, data: { values: [{ at: 0, value: 'b' }] } })
    expect(values.map(({ at }) => at)).toEqual([0, 1, 2])
  })
})
