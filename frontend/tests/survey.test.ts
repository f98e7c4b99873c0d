/** Answers of weighted samples: what stands beside what, and what is left open. */
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import type { Survey, SurveyModel, SurveyTerm } from '@/api/types'
import OddsTable from '@/screens/ask/OddsTable.vue'
import SurveyAnswers from '@/screens/ask/SurveyAnswers.vue'
import SurveyBeside from '@/screens/ask/SurveyBeside.vue'
import SurveyFit from '@/screens/ask/SurveyFit.vue'
import SurveyModelStrata from '@/screens/ask/SurveyModelStrata.vue'
import SeveralTable from '@/screens/ask/SeveralTable.vue'
import SurveyShares from '@/screens/ask/SurveyShares.vue'
import SurveyStrata from '@/screens/ask/SurveyStrata.vue'
import { weightedSeveral } from '@/screens/ask/several'
import WeightsTable from '@/screens/data/WeightsTable.vue'

const share = (value: string, estimate: number): Survey['shares'][number] => ({
  value,
  label: value,
  n: 200,
  unweighted_count_of_events: 50,
  sum_of_weights: 250,
  estimate,
  se: 0.03,
  ci: [estimate - 0.06, estimate + 0.06],
  ci_95_logit: null,
  ci_95_wald: null,
  coefficient_of_variation: null,
  deff: 1.25,
  deft: null,
  effective_sample_size: 160,
  unweighted: 0.25,
})
const contrast = (estimate: number) => {
  const ci: [number, number] = [estimate - 0.1, estimate + 0.1]
  return { estimate, t: 2, df: 40, p: 0.046, ci, ci_95: ci }
}
const cellsOf = (wrapper: { findAll: (what: string) => { text: () => string }[] }, row: string) =>
  wrapper.findAll(`${row} td, ${row} th`).map((cell) => cell.text().replace(/\s+/g, ' '))

describe('weighted shares', () => {
  const comparisons: Survey['comparisons'] = [
    {
      value: 'river',
      label: 'river',
      risk_difference: { ...contrast(0.12), se: 0.1 },
      risk_ratio: { ...contrast(1.5), log_se: 0.1 },
      odds_ratio: null,
      unweighted_odds_ratio: 1.4,
    },
  ]
  const props = { shares: [share('piped', 0.2), share('river', 0.32)] }

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
  it('of answers say how many gave each, up to where, and who gave none', () => {
    const frequencies: Survey['frequencies'] = {
      share_answered: 0.9,
      cumulative: [0.2, 0.52],
      missing: [
        { code: '9', label: 'refused', n: 20, share_of_all: 0.1 },
        { code: '', label: 'blank', n: 0, share_of_all: 0 },
      ],
    }
    const table = mount(SurveyAnswers, { props: { ...props, frequencies } })
    expect(cellsOf(table, 'tbody:first-of-type tr:nth-child(2)')).toEqual([
      'river',
      '50',
      '25.0%',
      '32.0% 26.0 to 38.0',
      '1.25',
      '52.0%',
    ])
    expect(cellsOf(table, 'tbody:last-child tr:first-child')[3]).toBe('90.0% of all')
    // Nobody's cell was blank.
    expect(table.findAll('tbody:last-child tr')).toHaveLength(2)
    expect(table.text()).toContain('refused “9”')
  })
  it('of answers stand against expected ones, marked where they differ', () => {
    const fit = {
      ...{ f: 5, df1: 1, df2: 40, p: 0.03, values: ['river'] },
      ...{ expected_shares: [1], z: [-2.5], p_adjusted: [0.02] },
    }
    const table = mount(SurveyAnswers, { props: { ...props, fit } })
    expect(cellsOf(table, 'tbody tr:first-child').at(-1)).toBe('none expected')
    expect(cellsOf(table, 'tbody tr:last-child').slice(-2)).toEqual(['100.0%', '▼ −2.5'])
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
  const row = (label: string): SurveyTerm['rows'][number] => ({
    ...{ term: 'source', level: label, label, given: null, n: 90, events: 30, log_odds: 0.69 },
    ...{ se: 0.2, z: 2.6, p: 0.01, odds_ratio: 2, ci: [1.5, 2.7], unadjusted: 2.2 },
    ...{ unadjusted_ci: [1.6, 3], difference: null, unweighted: 1.8, unweighted_ci: [1.4, 2.3] },
  })
  const test = {
    ...{ chi_square: 6.6, f: 3.3, df1: 2, df2: 41, p: 0.047 },
    ...{ adjusted_f: 3.21, adjusted_df1: 2, adjusted_df2: 40, adjusted_p: 0.051 },
  }
  const term: SurveyTerm = {
    ...{ term: 'source', variable: 'source', together_with: null, title: 'source' },
    ...{ role: 'vary_with', is_numeric: false, part_of_interaction: false, holds_at: null },
    ...{ reference: 'none', reference_n: 110, reference_events: 20 },
    wald: test,
    rows: [row('river'), row('well')],
  }
  const model: SurveyModel = {
    ...{ n: 400, events: 120, share: 0.3, coefficients: [], average_marginal_effects: [] },
    ...{ equation: '', steps: [], model: null, fit: null, slots: [], predictions: [] },
    terms: [term],
    curve: null,
  }

  it('has the reference, the odds ratios and the adjusted Wald test of the whole', () => {
    const age = { ...term, term: 'age', title: 'age', wald: null, rows: [row('old')] }
    const table = mount(OddsTable, {
      props: { terms: [{ ...age, role: 'allowing_for' as const }, term], event: 'Yes' },
    })
    expect(cellsOf(table, 'tbody:nth-of-type(1) tr:nth-child(1)')).toContain('0.051')
    expect(cellsOf(table, 'tbody:nth-of-type(1) tr:nth-child(2)').slice(0, 4)).toEqual([
      'none reference',
      '20 of 110',
      '1',
      '1',
    ])
    expect(cellsOf(table, 'tbody:nth-of-type(1) tr:nth-child(3)')).toEqual([
      'river',
      '30 of 90',
      '2.20 1.60 to 3.00',
      '2.00 1.50 to 2.70',
      '0.010',
    ])
    // Too few clusters for a test of the whole.
    expect(cellsOf(table, 'tbody:nth-of-type(2) tr:nth-child(1)').at(-1)).toBe('')
  })
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
        figures: {},
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
      'adjusted Wald F 3.21, df 2, 40',
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
  const pair: Survey['comparisons'][number] = {
    value: 'river',
    label: 'river',
    risk_difference: { ...contrast(0.12), se: 0.1 },
    risk_ratio: null,
    odds_ratio: { ...contrast(1.5), log_se: 0.1 },
    unweighted_odds_ratio: 1.4,
  }
  const survey = {
    comparisons: [pair],
    strata: [
      stratum('North', { shares: [share('piped', 0.2)], comparisons: [pair] }),
      stratum('South', { left_out: 'nobody answered' }),
    ],
  } as unknown as Survey
  const table = mount(SurveyStrata, { props: { survey, title: 'District' } })
  expect(cellsOf(table, 'tbody tr:first-child')).toEqual([
    'North',
    '20',
    '20.0%14.0 to 26.0',
    '12.02.0 to 22.0',
    '1.501.40 to 1.60',
  ])
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
