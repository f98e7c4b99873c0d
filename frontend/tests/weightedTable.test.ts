/** The weighted cross-tabulation: percentages in every direction, and its measures in words. */
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { createVuetify } from 'vuetify'

import type { Survey } from '@/api/types'
import CrosstabTable from '@/screens/ask/CrosstabTable.vue'
import { weightedCells } from '@/screens/ask/crosstabView'
import { weightedLines } from '@/screens/ask/measures'
import { areOrdered, emptyQuestion, withFirst } from '@/screens/ask/words'
import { entry } from './entries'

const cellsOf = (wrapper: { findAll: (what: string) => { text: () => string }[] }, row: string) =>
  wrapper.findAll(`${row} td, ${row} th`).map((cell) => cell.text().replace(/\s+/g, ' '))

describe('a weighted table', () => {
  const cell = (estimate: number) => ({ estimate, se: 0.02, ci: null, ci_95_logit: null })
  const cells = (grid: number[][]) =>
    grid.map((row) => row.map((estimate) => ({ ...cell(estimate), unweighted: 0.5 })))
  const table = weightedCells(
    {
      rows: ['Piped', 'River'],
      columns: ['No', 'Yes'],
      event: [1],
      counts: [
        [90, 10],
        [60, 40],
      ],
      row_margin: [0.7, 0.3],
      column_margin: [0.8, 0.2],
      row_proportions: cells([
        [0.88, 0.12],
        [0.62, 0.38],
      ]),
      column_proportions: cells([
        [0.77, 0.42],
        [0.23, 0.58],
      ]),
      cell_proportions: [
        [0.616, 0.084],
        [0.186, 0.114],
      ],
      z: [
        [3.1, -3.1],
        [-5, 5],
      ],
      p_adjusted: [
        [0.2, 0.2],
        [0.001, 0.001],
      ],
    } as unknown as NonNullable<Survey['table']>,
    { rows: 'Water source', columns: 'Illness' },
  )
  const show = () =>
    mount(CrosstabTable, {
      global: { plugins: [createVuetify()] },
      props: {
        table,
        titles: { rows: 'Water source', columns: 'Illness' },
        noun: 'households',
        totals: 'n, unweighted',
        cells: [],
        isTransposed: false,
        marked: null,
        looked: null,
      },
    })
  const choose = (shown: ReturnType<typeof show>, words: string) =>
    shown
      .findAll('[role="radio"]')
      .find((each) => each.text() === words)!
      .trigger('click')

  it('has the event first, unweighted counts beside, and all together last', () => {
    const shown = show()
    expect(cellsOf(shown, 'thead tr:last-child')).toEqual([
      'Water source',
      'Yes',
      'No',
      'n, unweighted',
    ])
    expect(cellsOf(shown, 'tbody tr:first-child')).toEqual(['Piped', '12.0%10', '88.0%90', '100'])
    expect(cellsOf(shown, 'tfoot tr')).toEqual(['All households', '20.0%50', '80.0%150', '200'])
  })
  it('marks only cells that stand out with all allowed for, deeper beyond twice the limit', () => {
    const shades = show()
      .findAll('tbody td.cell')
      .map((td) => td.classes().at(-1))
    expect(shades).toEqual(['cell', 'cell', 'more-2', 'less-2'])
  })
  it('turns the percentages round, and shows parts of all', async () => {
    const shown = show()
    await choose(shown, '% within Illness')
    expect(cellsOf(shown, 'tbody tr:first-child')).toEqual(['Piped', '42.0%10', '77.0%90', '70.0%'])
    await choose(shown, '% of all')
    expect(cellsOf(shown, 'tbody tr:first-child')[1]).toBe('8.4%10')
    expect(cellsOf(shown, 'tfoot tr')).toEqual(['All households', '20.0%50', '80.0%150', '200'])
    await choose(shown, 'z')
    expect(cellsOf(shown, 'tbody tr:last-child')[1]).toContain('5.0')
  })
})

describe('words of weighted tables', () => {
  const table = {
    cramers_v: 0.2,
    cramers_v_ci: [0.1, 0.3],
    measures: [
      { key: 'gamma', value: -0.18, se: 0.05, ci: [-0.27, -0.08], unweighted: -0.2 },
      { key: 'lambda_symmetric', value: 0.1, se: 0.02, ci: null, unweighted: 0.1 },
    ],
  } as unknown as NonNullable<Survey['table']>
  const titles = { rows: 'Source', columns: 'Illness' }

  it('measures of order only where both have one', () => {
    expect(weightedLines(table, true, titles).map(({ title }) => title)).toContain('gamma')
    const plain = weightedLines(table, false, titles)
    expect(plain.map(({ title }) => title)).toEqual(['Cramér’s V', 'lambda, both ways'])
    expect(plain[0]).toMatchObject({ value: 0.2, ci: [0.1, 0.3], leads: true })
  })
  it.each([
    [['ordinal', 'ordinal'], true],
    [['ordinal', 'nominal'], false],
  ])('%o are ordered: %s', (kinds, ordered) => {
    const entries = kinds.map((kind) =>
      entry('x', ['a', 'b', 'c'], { kind: kind as 'ordinal' | 'nominal' }),
    )
    expect(areOrdered(entries)).toBe(ordered)
  })
  it('a chosen variable comes first, the others in their order', () => {
    const question = {
      ...emptyQuestion(),
      vary_with: ['a', 'b', 'c'].map((variable) => ({ variable })),
    }
    const names = (of: typeof question) => of.vary_with.map(({ variable }) => variable)
    expect(names(withFirst(question, 'c') as typeof question)).toEqual(['c', 'a', 'b'])
    expect(withFirst(question, 'a')).toBe(question)
    expect(withFirst(question, 'z')).toBe(question)
  })
})
