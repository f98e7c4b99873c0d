/** Answers of weighted samples: what stands beside what, and what is left open. */
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import type { Survey } from '@/api/types'
import SurveyBeside from '@/screens/ask/SurveyBeside.vue'
import SurveyCells from '@/screens/ask/SurveyCells.vue'
import SurveyFit from '@/screens/ask/SurveyFit.vue'
import SurveyModelStrata from '@/screens/ask/SurveyModelStrata.vue'
import SeveralTable from '@/screens/ask/SeveralTable.vue'
import SurveyShares from '@/screens/ask/SurveyShares.vue'
import SurveyStrata from '@/screens/ask/SurveyStrata.vue'
import { weightedLines } from '@/screens/ask/measures'
import { weightedSeveral } from '@/screens/ask/several'
import { areOrdered, withFirst, emptyQuestion } from '@/screens/ask/words'
import WeightsTable from '@/screens/data/WeightsTable.vue'
import { entry } from './entries'

const share = (value: string, estimate: number): Survey['shares'][number] => ({
  value,
  label: value,
  n: 200,
  events: 50,
  weighted_n: 250,
  estimate,
  se: 0.03,
  ci: [estimate - 0.06, estimate + 0.06],
  ci_95_logit: null,
  deff: 1.25,
  effective_sample_size: 160,
  unweighted: 0.25,
})
const contrast = (estimate: number) => ({
  estimate,
  se: 0.1,
  t: 2,
  p: 0.046,
  ci: [estimate - 0.1, estimate + 0.1] as [number, number],
})
const cellsOf = (wrapper: { findAll: (what: string) => { text: () => string }[] }, row: string) =>
  wrapper.findAll(`${row} td, ${row} th`).map((cell) => cell.text().replace(/\s+/g, ' '))

describe('weighted shares', () => {
  const comparisons: Survey['comparisons'] = [
    {
      value: 'river',
      label: 'river',
      risk_difference: contrast(0.12),
      risk_ratio: contrast(1.5),
      odds_ratio: null,
      unweighted_odds_ratio: 1.4,
    },
  ]
  const props = { shares: [share('piped', 0.2), share('river', 0.32)], isOfAnswers: false }

  it('stand beside unweighted counts, the reference named', () => {
    const table = mount(SurveyShares, { props: { ...props, comparisons } })
    expect(cellsOf(table, 'tbody tr:first-child').slice(0, 4)).toEqual([
      'piped reference',
      '50 of 200',
      '25.0%',
      '20.0% 14.0 to 26.0',
    ])
    const river = cellsOf(table, 'tbody tr:last-child')
    expect(river[5]).toBe('12.0 2.0 to 22.0')
    // Where a ratio has no finite value the cell stays empty.
    expect(river[7]).toBe('')
    expect(river[8]).toBe('0.046')
  })
  it('of answers need no column of comparisons, and say how many gave each', () => {
    const table = mount(SurveyShares, { props: { ...props, isOfAnswers: true } })
    expect(table.findAll('thead th')).toHaveLength(5)
    expect(cellsOf(table, 'tbody tr:first-child')[1]).toBe('50')
  })
  it('tell the trend where groups are ordered', () => {
    const trend = { odds_ratio: 0.78, ci: [0.68, 0.89] as [number, number], p: 0.0002 }
    const table = mount(SurveyShares, { props: { ...props, trend } })
    expect(table.text().replace(/\s+/g, ' ')).toContain('0.78 per step (0.68 to 0.89, p < 0.001)')
  })
})

it('three ways stand side by side, each in its own unit', () => {
  const way = (estimate: number) => ({ estimate, ci: null })
  const rows: NonNullable<Survey['beside']>['rows'] = [
    { label: 'a', unit: 'share', unweighted: way(0.2), weights_only: way(0.25), design: way(0.25) },
    { label: 'b', unit: 'ratio', unweighted: null, weights_only: way(2), design: way(2) },
    { label: 'c', unit: 'number', unweighted: way(40.25), weights_only: way(41), design: way(41) },
    { label: 'd', unit: 'p', unweighted: way(0.00001), weights_only: way(0.03), design: way(0.2) },
  ]
  const table = mount(SurveyBeside, {
    props: { beside: { rows, moved: 'Wider by half.' }, noun: 'household' },
  })
  const cells = (i: number) => cellsOf(table, `tbody tr:nth-child(${i})`).slice(1)
  expect(cells(1)).toEqual(['20.0%', '25.0%', '25.0%'])
  expect(cells(2)).toEqual(['', '2.00', '2.00'])
  expect(cells(3)).toEqual(['40.25', '41', '41'])
  expect(cells(4)).toEqual(['< 0.001', '0.030', '0.20'])
  expect(table.text()).toContain('Wider by half.')
  expect(table.get('thead').text()).toContain('each household once')
})

describe('a weighted model', () => {
  const row = (term: string, label: string): NonNullable<Survey['model']>['rows'][number] => ({
    term,
    title: term,
    label,
    reference: 'none',
    given: null,
    odds_ratio: 2,
    ci: [1.5, 2.7],
    p: 0.01,
    unweighted: 1.8,
    unweighted_ci: [1.4, 2.3],
  })
  const test = { f: 3.21, df1: 2, df2: 40, p: 0.051 }
  const model: NonNullable<Survey['model']> = {
    n: 400,
    coefficients: [],
    rows: [row('source', 'river'), row('source', 'well')],
    terms: [],
    steps: [],
    model: null,
    fit: null,
    slots: [],
    predictions: [],
    curve: null,
  }

  it('shows strata beside the whole, and says why one is left out', () => {
    const ratio = { odds_ratio: 3, ci: [1.1, 8] as [number, number], p: 0.03 }
    const strata: NonNullable<Survey['model_strata']> = {
      strata: [
        { values: ['n'], label: 'North', n: 250, ratios: [ratio, null], left_out: null },
        { values: ['s'], label: 'South', n: 9, ratios: [], left_out: 'Nobody has the event.' },
      ],
      same: null,
      reason: 'Not every stratum could be fitted.',
    }
    const shown = mount(SurveyModelStrata, { props: { model, strata, title: 'District' } })
    expect(cellsOf(shown, 'tbody tr:first-child')).toEqual([
      'source: river',
      '2.00',
      '3.00 1.10 to 8.00',
    ])
    expect(cellsOf(shown, 'tbody tr:last-child')[2]).toBe('—')
    expect(shown.text()).toContain('South is left out: Nobody has the event.')
    expect(shown.text()).toContain('Not tested for being the same: Not every stratum')
  })
  it('tells what each step adds, and where there is no test', () => {
    const shown = mount(SurveyFit, {
      props: {
        model: {
          ...model,
          steps: [
            { step: 'allowing_for', titles: ['Age', 'Income'], wald: test },
            { step: 'vary_with', titles: ['Source'], wald: null },
          ],
        },
      },
    })
    expect(cellsOf(shown, 'tbody tr:first-child')).toEqual([
      '1. Age, Income',
      'adjusted Wald F 3.21, df 2.0, 40.0',
      'p 0.051',
    ])
    expect(shown.text()).toContain('too few clusters for so many coefficients')
    expect(shown.text()).toContain('No test of the fit')
  })
})

it('several variables with the outcome lead to their own table', async () => {
  const line: Survey['several'][number] = {
    variable: 'source',
    title: 'Water source',
    n: 400,
    test: { f: 10.5, df1: 3.6, df2: 196.4, p: 0.0001 },
    p_holm: 0.0002,
    cramers_v: 0.15,
    cramers_v_ci: [0.1, 0.2],
    left_out: null,
  }
  const empty = {
    ...line,
    variable: 'age',
    title: 'Age',
    test: null,
    left_out: 'not in categories',
  }
  const table = mount(SeveralTable, {
    props: {
      lines: weightedSeveral([line, empty]),
      outcome: 'Illness',
      statistic: 'Rao–Scott F',
    },
  })
  expect(cellsOf(table, 'tbody tr:first-child').slice(2)).toEqual([
    '10.50',
    '3.6, 196.4',
    '< 0.001',
    '< 0.001',
    '0.15',
    '0.10 to 0.20',
  ])
  expect(cellsOf(table, 'tbody tr:last-child')[2]).toBe('not in categories')
  await table.get('tbody tr:last-child button').trigger('click')
  expect(table.emitted('choose')).toEqual([['age']])
})

it('strata show shares, means or why they are empty', () => {
  const stratum = (label: string, rest: Partial<Survey['strata'][number]>) => ({
    values: [label],
    label,
    n: 20,
    shares: [],
    comparisons: [],
    mean: null,
    rao_scott_second_order: null,
    left_out: null,
    ...rest,
  })
  const survey = {
    strata: [
      stratum('North', { shares: [share('piped', 0.2)] }),
      stratum('South', { left_out: 'nobody answered' }),
    ],
  } as unknown as Survey
  const table = mount(SurveyStrata, { props: { survey, title: 'District' } })
  expect(table.text()).toContain('20.0%')
  expect(table.text()).toContain('left out: nobody answered')
})

it('weights before and after say whom they leave out', () => {
  const spread = { n: 90, total: 90, least: 0.5, most: 2, effect: 1.25, effective: 72 }
  const table = mount(WeightsTable, {
    props: {
      look: {
        before: spread,
        after: { ...spread, total: 1000 },
        left_out: 10,
        rounds: 3,
        margins: [
          {
            variable: 'a',
            title: 'Area',
            rows: [{ value: '1', label: 'North', n: 40, before: 0.4, asked: 0.5, after: 0.5 }],
          },
        ],
        assumption: 'Assumes much.',
      },
      noun: { one: 'person', many: 'people' },
    },
  })
  expect(table.text().replace(/\s+/g, ' ')).toContain(
    'Every total is met after 3 rounds. 10 people without an answer to all of these get no weight. Assumes much.',
  )
  expect(cellsOf(table, 'table:nth-of-type(2) tbody tr')).toEqual([
    'North',
    '40',
    '40.0%',
    '50.0%',
    '50.0%',
  ])
})

describe('a weighted table', () => {
  const table = {
    rows: ['Piped', 'River'],
    columns: ['No', 'Yes'],
    event: [1],
    counts: [
      [90, 10],
      [60, 40],
    ],
    share_of_all: [0.8, 0.2],
    share_within_row: [
      [0.88, 0.12],
      [0.62, 0.38],
    ],
    share_se: [
      [0.02, 0.02],
      [0.03, 0.03],
    ],
    unweighted_share_within_row: [
      [0.9, 0.1],
      [0.6, 0.4],
    ],
    z: [
      [3.1, -3.1],
      [-5, 5],
    ],
    p_adjusted: [
      [0.2, 0.2],
      [0.001, 0.001],
    ],
  } as unknown as NonNullable<Survey['table']>
  const shown = mount(SurveyCells, { props: { table, title: 'Water source', noun: 'households' } })

  it('has the event first and all groups together last', () => {
    expect(cellsOf(shown, 'thead tr')).toEqual(['Water source', 'Yes', 'No', 'n, unweighted'])
    expect(cellsOf(shown, 'tbody tr:first-child')).toEqual(['Piped', '12.0% 10', '88.0% 90', '100'])
    expect(cellsOf(shown, 'tbody tr:last-child')).toEqual([
      'All households',
      '20.0% 50',
      '80.0% 150',
      '200',
    ])
  })
  it('marks only cells that stand out with all allowed for, deeper beyond twice the limit', () => {
    const shades = shown.findAll('tbody td').map((cell) => cell.attributes('class') || '')
    expect(shades.slice(0, 5)).toEqual(['', '', 'quiet', 'more-2', 'less-2'])
    expect(cellsOf(shown, 'tbody tr:nth-child(2)')[1]).toBe('38.0% ▲40')
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
