/** Models of every answer: which way they are told, turned with a click, and cut in two. */
import { describe, expect, it } from 'vitest'

import type { Schemas } from '@/api/types'
import { limits, percent, ratio } from '@/design/numbers'
import LensTabs from '@/screens/ask/answer/LensTabs.vue'
import ModelPaper from '@/screens/ask/answer/ModelPaper.vue'
import ModelSteps from '@/screens/ask/answer/ModelSteps.vue'
import CutsPanel from '@/screens/ask/every_answer/CutsPanel.vue'
import EveryAnswerSheet from '@/screens/ask/every_answer/EveryAnswerSheet.vue'
import PredictedPanel from '@/screens/ask/every_answer/PredictedPanel.vue'
import SharesBar from '@/screens/ask/every_answer/SharesBar.vue'
import OutcomeSlot from '@/screens/ask/sentence/OutcomeSlot.vue'
import { foundIn, resultsOf, sent, show } from './asked'

type Results = Schemas['EveryAnswerResults']
const plain = (text: string) => text.replace(/\s+/g, ' ')

describe('answers in order', () => {
  const results = resultsOf<Results>('ordered')

  it('names them from low to high, with how many gave each', () => {
    const { wrapper } = show(EveryAnswerSheet, 'ordered')
    const text = plain(wrapper.get('.way').text())
    expect(text).toContain('Odds of a higher answer')
    const places = results.answers.map(({ label }) => text.indexOf(label))
    expect(places).toEqual([...places].sort((a, b) => a - b))
    expect(places.every((place) => place >= 0)).toBe(true)
  })

  it('is turned round with a click', async () => {
    const { wrapper, changed } = show(EveryAnswerSheet, 'ordered')
    await wrapper.get('.way button').trigger('click')
    expect(changed.at(-1)!.options.every_answer.downward).toBe(true)
  })

  it('has an odds ratio in each line, and the answers of each group', () => {
    const { wrapper } = show(EveryAnswerSheet, 'ordered')
    const first = results.terms.find(({ role }) => role === 'vary_with')!
    const table = wrapper.get('table')
    for (const row of first.rows) {
      const line = table.findAll('tr').find((each) => each.text().startsWith(row.label))!
      expect(plain(line.text())).toContain(ratio(row.ratios[0]!.odds_ratio))
      expect(line.text()).toContain(limits(row.ratios[0]!.ci))
      expect(line.findComponent(SharesBar).props('shares')).toEqual(row.shares)
    }
    expect(table.text()).toContain('reference')
  })

  it('has a column for each stratum, and says what is not tested', () => {
    const { wrapper } = show(EveryAnswerSheet, 'ordered strata')
    const strata = resultsOf<Results>('ordered strata').strata
    const section = wrapper.get('section.strata')
    expect(section.findAll('thead th')).toHaveLength(2 + strata.length)
    expect(section.text()).toContain('not tested')
  })

  it('shows its tab as that of the model', () => {
    const { lenses } = sent('ordered')
    const family = lenses.find(({ forms }) => forms.length)!
    const { wrapper } = show(LensTabs, 'ordered', { lens: family.forms[0], lenses })
    const chosen = wrapper.findAll('[aria-selected=true]')
    expect(chosen.map((tab) => tab.text())).toEqual([family.title])
    expect(lenses.map(({ name }) => name)).not.toContain(family.forms[0])
  })

  it('says in the sentence that no answer is left out', () => {
    expect(plain(show(OutcomeSlot, 'ordered').wrapper.text())).toContain('every answer')
    expect(plain(show(OutcomeSlot, 'odds').wrapper.text())).not.toContain('every answer')
    expect(plain(show(OutcomeSlot, 'crosstab').wrapper.text())).not.toContain('every answer')
  })
})

describe('cuts', () => {
  const found = foundIn<Schemas['CutsPanel']>('ordered', 'cuts')
  const figures = sent('ordered').panels.cuts!.figures as never

  it('stand beside the odds ratio of all of them', () => {
    const { wrapper } = show(CutsPanel, 'ordered', { found, figures })
    const rows = wrapper.findAll('tbody tr')
    expect(rows).toHaveLength(found.lines.length)
    for (const [i, line] of found.lines.entries()) {
      const cells = rows[i]!.findAll('td').map((cell) => plain(cell.text()))
      expect(cells[0]).toContain(ratio(line.common.odds_ratio))
      expect(cells.slice(1).map((cell) => cell.split(' ')[0])).toEqual(
        line.cuts.map((each) => ratio(each?.odds_ratio)),
      )
    }
    for (const { title } of found.tests) expect(wrapper.text()).toContain(title)
  })

  it('become the outcome with a click', async () => {
    const { wrapper, changed } = show(CutsPanel, 'ordered', { found, figures })
    await wrapper.findAll('thead button')[1]!.trigger('click')
    const next = changed.at(-1)!
    expect(next.outcome!.event).toEqual(found.cuts[1]!.event)
    expect(next.lens).toBe(sent('odds').answer.answer.lens)
  })
})

describe('answers in no order', () => {
  const results = resultsOf<Results>('several')

  it('have a column each, against the base', () => {
    const { wrapper } = show(EveryAnswerSheet, 'several')
    const heads = wrapper.get('table').findAll('thead th')
    const [base, ...others] = results.answers
    expect(heads.slice(2, -1).map((head) => plain(head.text()))).toEqual(
      others.map(({ label }) => `${label}rather than ${base!.label}`),
    )
    const row = results.terms.find(({ role }) => role === 'vary_with')!.rows[0]!
    const line = wrapper.findAll('tr').find((each) => each.text().startsWith(row.label))!
    for (const each of row.ratios) expect(line.text()).toContain(ratio(each.odds_ratio))
  })

  it('take another base with a choice', async () => {
    const { wrapper, changed } = show(EveryAnswerSheet, 'several')
    const other = results.answers[2]!.value
    await wrapper.get('.way select').setValue(other)
    expect(changed.at(-1)!.options.every_answer.base).toBe(other)
  })
})

describe('predicted shares', () => {
  const found = foundIn<Schemas['PredictedPanel']>('ordered', 'predicted')
  const figures = sent('ordered').panels.predicted!.figures as never

  it('stand for each category and each profile, and add up', () => {
    const { wrapper } = show(PredictedPanel, 'ordered', { found, figures })
    const [variable] = found.variables
    for (const level of variable!.levels) {
      const whole = level.answers.reduce((sum, { share }) => sum + share, 0)
      expect(whole).toBeCloseTo(1, 9)
      const line = wrapper.findAll('tr').find((each) => each.text().startsWith(level.label))!
      for (const { share } of level.answers) expect(line.text()).toContain(percent(share))
    }
    expect(found.profiles).toHaveLength(2)
    for (const { share } of found.profiles[0]!.answers) {
      expect(wrapper.text()).toContain(percent(share))
    }
  })

  it('take another profile', async () => {
    const { wrapper, changed } = show(PredictedPanel, 'ordered', { found, figures })
    const add = wrapper.findAll('button').find((each) => each.text().startsWith('Another profile'))!
    await add.trigger('click')
    expect(changed.at(-1)!.options.every_answer.profiles).toHaveLength(3)
  })
})

describe('steps and the table for a paper', () => {
  it.each(['ordered', 'several', 'matched', 'ordered weighted'])('of %s', (name) => {
    const steps = foundIn<Schemas['ModelSteps']>(name, 'steps')
    const { wrapper } = show(ModelSteps, name, { found: steps })
    const rows = wrapper.findAll('tbody tr')
    expect(rows).toHaveLength(steps.steps.length + (steps.null === null ? 0 : 1))
    for (const { titles } of steps.steps) expect(wrapper.text()).toContain(titles.join(', '))
    const paper = foundIn<Schemas['PaperPanel']>(name, 'paper')
    const printed = show(ModelPaper, name, { found: paper }).wrapper
    expect(printed.get('caption').text()).toBe(paper.table.title)
    expect(printed.findAll('tbody tr')).toHaveLength(paper.table.rows.length)
  })

  it('begin where asked', async () => {
    const found = foundIn<Schemas['ModelSteps']>('ordered', 'steps')
    const { wrapper, changed } = show(ModelSteps, 'ordered', { found })
    await wrapper.get('input[type=checkbox]').setValue(true)
    expect(changed.at(-1)!.options.every_answer.new_step_at).toEqual(['schooling'])
  })
})
