/** Shares with the event: which minus which, in what order, within strata, with a design. */
import { describe, expect, it } from 'vitest'

import type { Schemas } from '@/api/types'
import { count, points, ratio } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import ProportionsSheet from '@/screens/ask/proportions/ProportionsSheet.vue'
import SharesTable from '@/screens/ask/proportions/SharesTable.vue'
import StatementPanel from '@/screens/ask/proportions/StatementPanel.vue'
import { cellsOf, foundIn, resultsOf, show } from './asked'

type Results = Schemas['ProportionsResults']
const results = (name: string) => resultsOf<Results>(name)

describe.each(['proportions', 'proportions weighted'])('%s', (name) => {
  const { whole } = results(name)

  it('names the reference, and compares every other group with it', () => {
    const { wrapper } = show(ProportionsSheet, name)
    const rows = wrapper.findAll('tbody tr')
    whole.groups.forEach((group, i) => {
      const against = whole.comparisons.find(({ value }) => value === group.value)
      const text = rows[i]!.text().replace(/\s+/g, ' ')
      expect(text).toContain(points(group.share))
      expect(text.includes('reference')).toBe(!against)
      if (against) expect(text).toContain(ratio(against.odds_ratio.estimate))
    })
    const titles = wrapper.findAll('thead th').map((head) => head.attributes('title'))
    expect(titles).toContain(`minus ${whole.reference_label}`)
  })
  it('says whom a percentage is of, and counts people as they were sampled', () => {
    const { wrapper } = show(ProportionsSheet, name)
    const cells = cellsOf(wrapper, 'tr.of-all')
    expect(cells[1]).toBe(count(whole.overall.events))
    expect(cells[2]).toBe(count(whole.overall.n))
    const heads = wrapper.findAll('thead th').map((head) => head.text())
    expect(heads.includes('% unweighted')).toBe(name.includes('weighted'))
    expect(heads).toContain('% Yes')
  })
  it('takes another reference in one click', async () => {
    const { wrapper, changed } = show(ProportionsSheet, name)
    await wrapper.get('button.against').trigger('click')
    const [asked] = changed
    const other = whole.groups.find(({ value }) => value === asked!.vary_with[0]!.reference)
    expect(other).toBeDefined()
    expect(whole.comparisons.map(({ value }) => value)).toContain(other!.value)
  })
  it('is put in order of share, the picture with it', async () => {
    const { wrapper } = show(ProportionsSheet, name)
    await wrapper.findAll('.order button')[1]!.trigger('click')
    const shares = [...whole.groups].sort((a, b) => b.share - a.share)
    expect(wrapper.get('tbody tr').text()).toContain(points(shares[0]!.share))
    const spec = wrapper.getComponent(FigureView).props('spec') as never as {
      data: { values: { value: string; at: number }[] }
    }
    expect(spec.data.values.map(({ value }) => value)).toEqual(shares.map(({ value }) => value))
    expect(spec.data.values.map(({ at }) => at)).toEqual(shares.map((_, at) => at))
  })
})

it('where shares have no meaning only odds ratios stand', () => {
  const sampled = results('proportions')
  Object.assign(sampled.whole, { shares_have_meaning: false })
  const props = { groups: sampled.whole.groups, results: sampled }
  const { wrapper } = show(SharesTable, 'proportions', props)
  const heads = wrapper.findAll('thead th').map((head) => head.text())
  expect(heads).toContain('odds ratio')
  expect(heads.join()).not.toMatch(/difference|ratio of shares/)
})

describe.each(['proportions strata', 'proportions strata weighted'])('%s', (name) => {
  it('shows the share of every group in every stratum', () => {
    const { strata } = results(name)
    const { wrapper } = show(ProportionsSheet, name)
    const table = wrapper.get('section.strata table')
    strata.forEach((stratum, i) => {
      const cells = cellsOf(table, `tbody tr:nth-child(${i + 1})`)
      expect(cells[0]).toBe(stratum.label)
      stratum.groups.forEach((group, j) => {
        expect(cells[j + 1]).toContain(`${points(group.share)} of ${count(group.n)}`)
      })
    })
  })
})

it('a group that is empty in a stratum is said to be', () => {
  const found = results('proportions strata')
  const [first, ...others] = found.strata
  const strata = [{ ...first!, groups: first!.groups.slice(1) }, ...others]
  const { wrapper, answer } = show(ProportionsSheet, 'proportions strata')
  answer.value = {
    ...answer.value!,
    answer: { ...answer.value!.answer, results: { ...found, strata } as never },
  }
  return Promise.resolve().then(() =>
    expect(cellsOf(wrapper, 'section.strata table tbody tr:first-child')[1]).toBe('nobody'),
  )
})

it('the hypothesis is stated line by line', () => {
  const found = foundIn<Schemas['StatementPanel']>('proportions', 'statement')
  const { wrapper } = show(StatementPanel, 'proportions', { found })
  expect(wrapper.findAll('dt').map((each) => each.text())).toEqual(
    found.lines.map(({ heading }) => heading),
  )
})
