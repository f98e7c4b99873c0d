/** Before and after: what changed between two questions with the same answers. */
import { describe, expect, it } from 'vitest'

import type { Schemas } from '@/api/types'
import { count, limits, percent, points, two } from '@/design/numbers'
import TwicePanel from '@/screens/ask/crosstab/TwicePanel.vue'
import { foundIn, show } from './asked'

const found = () => foundIn<Schemas['TwicePanel']>('crosstab twice', 'twice')
const shown = (changes: Partial<Schemas['TwicePanel']> = {}) =>
  show(TwicePanel, 'crosstab twice', { found: { ...found(), ...changes } }).wrapper

describe('before and after', () => {
  it('tells who said the same again, and the change of every answer with its limits', () => {
    const wrapper = shown()
    const { n, same, answers } = found()
    expect(wrapper.get('p').text()).toContain(
      `${count(same)} of ${count(n)} (${percent(same / n)})`,
    )
    const rows = wrapper.findAll('tbody tr')
    expect(rows).toHaveLength(answers.length)
    for (const [i, answer] of answers.entries()) {
      expect(rows[i]!.text()).toContain(points(answer.change))
      expect(rows[i]!.text()).toContain(limits(answer.ci, points))
    }
    // What one answer gains the other loses.
    expect(answers[0]!.change).toBeCloseTo(-answers[1]!.change, 12)
  })

  it('shows who went where and who came back, as a bar with both numbers', () => {
    const wrapper = shown()
    const [first] = found().moved
    const line = wrapper.get('.moved li')
    expect(line.text()).toContain(`${first!.one} → ${first!.other} ${count(first!.there)}`)
    expect(line.text()).toContain(`${count(first!.back)} ${first!.other} → ${first!.one}`)
    const wide = (100 * first!.there) / (first!.there + first!.back)
    expect(parseFloat((line.get('.bar i').element as HTMLElement).style.width)).toBeCloseTo(wide, 3)
  })

  it('names the test of two answers, and of more', () => {
    expect(shown().text()).toContain('McNemar’s exact test')
    const test = { statistic: 8.571, df: 2, p: 0.0138 }
    const more = { mcnemar: null, homogeneity: test, homogeneity_bhapkar: null, symmetry: test }
    const text = shown(more).text()
    expect(text).toContain('Stuart–Maxwell χ² 8.57, df 2, p = 0.014')
    expect(text).toContain('(symmetry): χ² 8.57')
    expect(shown({ ...more, homogeneity: null, moved: [] }).text()).toContain('Nobody changed.')
  })

  it('tells kappa with its limits and the most it could be', () => {
    const [kappa] = found().agreement
    const text = shown().text()
    expect(text).toContain(`kappa ${two(kappa!.estimate)} (${limits(kappa!.ci, two)})`)
    expect(text).toContain(`could be ${two(found().greatest)} at most`)
    expect(shown({ agreement: [] }).text()).toContain('All gave one answer both times')
  })
})
