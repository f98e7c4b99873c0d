/** Matched sets: what is told of them, the slot of the sentence, and pairs. */
import { describe, expect, it } from 'vitest'

import type { Schemas } from '@/api/types'
import { count, limits, ratio } from '@/design/numbers'
import MatchedSlot from '@/screens/ask/sentence/MatchedSlot.vue'
import MatchedTable from '@/screens/ask/within_sets/MatchedTable.vue'
import PairsTable from '@/screens/ask/within_sets/PairsTable.vue'
import SetsTold from '@/screens/ask/within_sets/SetsTold.vue'
import { resultsOf, sent, show } from './asked'

type Results = Schemas['MatchedResults']
const plain = (text: string) => text.replace(/\s+/g, ' ')
const results = resultsOf<Results>('matched')

describe('sets', () => {
  it('are told with those that tell nothing', () => {
    const text = plain(show(SetsTold, 'matched', { results }).wrapper.text())
    const { sets } = results
    expect(text).toContain(`${count(sets.informative)} of ${count(sets.sets)} sets`)
    expect(text).toContain(`${count(sets.no_events)} only people without`)
    for (const { events, others, sets: many } of sets.shapes) {
      expect(text).toContain(`${count(many)} of ${events} to ${others}`)
    }
  })

  it('have an odds ratio in each line', () => {
    const { wrapper } = show(MatchedTable, 'matched', { results })
    for (const term of results.terms) {
      for (const row of term.rows) {
        const line = wrapper.findAll('tr').find((each) => each.text().startsWith(row.label))!
        expect(plain(line.text())).toContain(ratio(row.odds_ratio))
        expect(line.text()).toContain(limits(row.ci))
        expect(line.text()).toContain(ratio(row.unadjusted))
      }
    }
  })

  it('say what does not vary within them', () => {
    const [first, ...others] = results.terms
    const without = { ...results, terms: [{ ...first!, rows: [], test: null }, ...others] }
    const { wrapper } = show(MatchedTable, 'matched', { results: without })
    expect(wrapper.text()).toContain('the same within every set')
  })
})

describe('pairs', () => {
  const pairs: Schemas['Pairs'] = {
    exposed: 'Swam: Yes',
    both: 10,
    only_event: 12,
    only_other: 4,
    neither: 9,
    odds_ratio: 3,
    ci: [0.97, 9.3],
    mcnemar: { statistic: 4, df: 1, p: 0.0455 },
    exact_p: 0.0768,
  }

  it('make the odds ratio of those that differ', () => {
    const { wrapper } = show(PairsTable, 'matched', { pairs, event: 'Case' })
    const text = plain(wrapper.text())
    expect(text).toContain('12 / 4 = 3.00 (0.97 to 9.30)')
    expect(text).toContain('exact p = 0.077')
  })

  it('have the exact test alone where nobody differs one way', () => {
    const none = { ...pairs, only_other: 0, odds_ratio: null, ci: null, mcnemar: null }
    const text = show(PairsTable, 'matched', { pairs: none, event: 'Case' }).wrapper.text()
    expect(text).not.toContain('=  ')
    expect(text).toContain('exact')
  })
})

describe('the slot', () => {
  const { question } = sent('matched').answer.answer

  it('names the sets, and lets go of them', async () => {
    const { wrapper, changed } = show(MatchedSlot, 'matched')
    expect(plain(wrapper.text())).toContain('matched within')
    await wrapper.get('[aria-label^="Without matching"]').trigger('click')
    expect(changed.at(-1)!.matched).toBeNull()
  })

  it('is offered where cases and controls were taken', () => {
    const without = { ...question, matched: null }
    const dataset = { study_design: 'case_control' as const, matched_on: '' }
    const offered = show(MatchedSlot, 'matched', {}, { question: without, dataset })
    expect(offered.wrapper.text()).toContain('+ matched within')
    const survey = { study_design: 'cross_sectional' as const, matched_on: '' }
    const not = show(MatchedSlot, 'matched', {}, { question: without, dataset: survey })
    expect(not.wrapper.text()).not.toContain('matched')
  })
})
