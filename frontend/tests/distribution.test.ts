/** How a variable is answered: shares of whom, what was expected, within strata, with a design. */
import { describe, expect, it } from 'vitest'
import { nextTick } from 'vue'

import type { Schemas } from '@/api/types'
import { count, oneDecimal, short } from '@/design/numbers'
import ExpectedPanel from '@/screens/ask/distribution/ExpectedPanel.vue'
import FrequencyTable from '@/screens/ask/distribution/FrequencyTable.vue'
import NumberSummary from '@/screens/ask/distribution/NumberSummary.vue'
import StrataTable from '@/screens/ask/distribution/StrataTable.vue'
import { cellsOf, resultsOf, show } from './asked'

type Results = Schemas['DistributionResults']
const variable = (name: string) => resultsOf<Results>(name).variables[0]!

function frequencies(name: string) {
  const found = variable(name)
  return show(FrequencyTable, name, { variable: found, rows: found.table }).wrapper
}

describe.each(['distribution', 'distribution weighted'])('%s', (name) => {
  const { table, missing_breakdown, n_answered, n_all } = variable(name)

  it('tells shares of all from shares of those who answered', () => {
    const shown = frequencies(name)
    const cells = cellsOf(shown, 'tbody tr:first-child')
    expect(cells[0]).toBe(table[0]!.label)
    expect(cells[1]).toBe(count(table[0]!.count))
    expect(cells[2]).toBe(oneDecimal(table[0]!.percent_of_all))
    expect(cells[3]).toBe(oneDecimal(table[0]!.percent_of_answered))
    expect(cellsOf(shown, 'tr.of-all')[1]).toBe(count(n_answered))
  })
  it('lists those without an answer by reason, apart from the answers', () => {
    const shown = frequencies(name)
    const reasons = missing_breakdown.filter((row) => row.count > 0)
    expect(reasons.length).toBeGreaterThan(0)
    const lines = shown.findAll('tbody.quiet tr')
    expect(lines).toHaveLength(reasons.length + 1)
    expect(lines[0]!.text()).toContain(reasons[0]!.label)
    expect(lines.at(-1)!.text()).toContain(count(n_all))
  })
  it('marks answers that stand out from what was expected', () => {
    const marks = variable(name).goodness_of_fit!.marks
    const shown = frequencies(name)
    table.forEach((_, i) => {
      const cell = cellsOf(shown, `tbody:first-of-type tr:nth-child(${i + 1})`).at(-1)!
      const sign = marks[i]!.includes('more') ? '▲' : marks[i] ? '▼' : ''
      expect(cell.startsWith(sign)).toBe(true)
      expect(/[▲▼]/.test(cell)).toBe(sign !== '')
    })
  })
  it('is sorted by count when asked to', async () => {
    const shown = frequencies(name)
    await shown.findAll('.choices button')[1]!.trigger('click')
    const counts = shown
      .findAll('tbody:first-of-type tr:not(.of-all) td:nth-child(2)')
      .map((cell) => Number(cell.text().replace(',', '')))
    expect(counts).toEqual([...counts].sort((a, b) => b - a))
  })
})

it('under a design counts are of the sample, and the unweighted share stands beside', () => {
  const heads = (name: string) =>
    frequencies(name)
      .findAll('thead th')
      .map((head) => head.text())
  expect(heads('distribution')).toContain('count')
  expect(heads('distribution')).not.toContain('% unweighted')
  expect(heads('distribution weighted')).toContain('sampled')
  expect(heads('distribution weighted')).toContain('% unweighted')
  // Counts are not compared with expected counts where they are weighted.
  expect(heads('distribution')).toContain('expected')
  expect(heads('distribution weighted')).toContain('expected, %')
})

it('says what was not expected at all', () => {
  const found = variable('distribution')
  const fit = found.goodness_of_fit!
  const [, ...values] = fit.values
  const changed = { ...found, goodness_of_fit: { ...fit, values } }
  const { wrapper } = show(FrequencyTable, 'distribution', { variable: changed, rows: found.table })
  expect(cellsOf(wrapper, 'tbody:first-of-type tr:first-child').at(-1)).toBe('none expected')
})

describe.each(['', ' weighted'])('within strata%s', (suffix) => {
  it('shares stand side by side, a column per stratum', () => {
    const { strata } = resultsOf<Results>(`distribution strata${suffix}`)
    const props = { strata, title: 'Water source' }
    const { wrapper } = show(StrataTable, `distribution strata${suffix}`, props)
    expect(wrapper.findAll('thead th').slice(1)).toHaveLength(strata.length)
    const first = cellsOf(wrapper, 'tbody tr:first-child')
    strata.forEach(({ outcome }, i) => {
      expect(first[i + 1]).toContain(oneDecimal(outcome.table[0]!.percent_of_answered))
    })
    expect(cellsOf(wrapper, 'tbody tr:last-child').slice(1)).toEqual(
      strata.map(({ outcome }) => count(outcome.n_answered)),
    )
  })
  it('a number is summarised, with the interval of its mean', () => {
    const { strata } = resultsOf<Results>(`number${suffix}`)
    const props = { strata, title: 'Age' }
    const { wrapper } = show(StrataTable, `number${suffix}`, props)
    const means = cellsOf(wrapper, 'tbody tr:nth-child(2)').slice(1)
    expect(means).toEqual(strata.map(({ outcome }) => short(outcome.summary!.mean!)))
  })
})

it('a weighted mean stands beside the unweighted one', () => {
  const items = (name: string) =>
    show(NumberSummary, name, { variable: variable(name) }).wrapper.findAll('dt')
  const words = (name: string) => items(name).map((item) => item.text())
  expect(words('number')).not.toContain('unweighted mean')
  expect(words('number weighted')).toContain('unweighted mean')
  expect(words('number weighted')).toContain('design effect of the mean')
})

describe('expected shares', () => {
  it('are typed beside the categories, blanks sharing the rest', async () => {
    const { wrapper, changed } = show(ExpectedPanel, 'distribution')
    await wrapper.get('input[inputmode=decimal]').setValue('60')
    await nextTick()
    const compare = wrapper.findAll('button').find((each) => /Compare/.test(each.text()))!
    await compare.trigger('click')
    const [asked] = changed
    expect(asked!.options.distribution.expected).toMatchObject({
      kind: 'stated',
      shares: { '1': 60, '2': 10, '5': 10 },
    })
  })
  it('go again with No comparison', async () => {
    const { wrapper, changed } = show(ExpectedPanel, 'distribution')
    const none = wrapper.findAll('button').find((each) => each.text() === 'No comparison')!
    await none.trigger('click')
    expect(changed[0]!.options.distribution.expected).toBeNull()
  })
})
