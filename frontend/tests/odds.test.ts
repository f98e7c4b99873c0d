/** The model: odds of what against what, unadjusted beside adjusted, strata, profiles, fit. */
import { describe, expect, it } from 'vitest'
import { nextTick } from 'vue'

import type { Schemas } from '@/api/types'
import { count, percent, pValue, ratio } from '@/design/numbers'
import FitPanel from '@/screens/ask/odds/FitPanel.vue'
import ModelByStratum from '@/screens/ask/odds/ModelByStratum.vue'
import OddsTable from '@/screens/ask/odds/OddsTable.vue'
import ProfilePanel from '@/screens/ask/odds/ProfilePanel.vue'
import StepsPanel from '@/screens/ask/odds/StepsPanel.vue'
import { interestFirst, wholeTest } from '@/screens/ask/answer/modelTerms'
import { rowsOf } from '@/screens/ask/odds/terms'
import { cellsOf, foundIn, resultsOf, show } from './asked'

type Results = Schemas['OddsResults']
const results = (name: string) => resultsOf<Results>(name)
const table = (name: string) => show(OddsTable, name, { results: results(name) }).wrapper

describe.each(['odds', 'odds weighted'])('%s', (name) => {
  const { whole } = results(name)
  const [source] = interestFirst(whole.terms)

  it('says the odds of what, and puts the variables of interest first', () => {
    const shown = table(name)
    expect(shown.get('thead th').text()).toBe('Odds of Yes')
    expect(shown.get('tbody tr').text()).toContain('Water source')
    expect(cellsOf(shown, 'tbody:nth-of-type(1) tr:nth-child(2)').slice(0, 4)).toEqual([
      'Piped reference',
      `${count(source!.reference_events!)} of ${count(source!.reference_n!)}`,
      '1',
      '1',
    ])
  })
  it('has the unadjusted odds ratio beside the adjusted one', () => {
    const cells = cellsOf(table(name), 'tbody:nth-of-type(1) tr:nth-child(3)')
    const [row] = source!.rows
    expect(cells[0]).toBe(row!.label)
    expect(cells[2]).toContain(ratio(row!.unadjusted))
    expect(cells[3]).toContain(ratio(row!.odds_ratio))
    expect(cells[4]).toBe(pValue(row!.p))
  })
  it('tests whole terms, and names the test', () => {
    const { p, title } = wholeTest(source!)
    expect(title.startsWith(source!.test!.name)).toBe(true)
    expect(cellsOf(table(name), 'tbody:nth-of-type(1) tr:first-child')).toContain(pValue(p))
  })
  it('says per how much a number is', () => {
    expect(table(name).text()).toMatch(/per 10|10 years/)
  })
})

it('a term without a test says why, and a part of an interaction has none', () => {
  const [term] = results('odds weighted').whole.terms
  expect(wholeTest({ ...term!, test: null })).toEqual({
    p: null,
    title: 'Too few degrees of freedom for so many categories',
  })
  expect(wholeTest({ ...term!, part_of_interaction: true }).p).toBeNull()
})

describe.each(['odds strata', 'odds strata weighted'])('%s', (name) => {
  it('has a column per stratum, and says whether they are the same', () => {
    const found = results(name)
    const { wrapper } = show(ModelByStratum, name, { results: found })
    const fitted = found.strata.filter(({ left_out }) => !left_out)
    const rows = rowsOf(found.whole.terms)
    expect(wrapper.findAll('tbody tr')).toHaveLength(rows.length)
    const first = cellsOf(wrapper, 'tbody tr:first-child')
    expect(first[1]).toBe(ratio(rows[0]!.odds_ratio))
    expect(first[2]).toContain(ratio(found.common!.ratios[0]!.odds_ratio))
    fitted.forEach(({ ratios }, i) => expect(first[i + 3]).toContain(ratio(ratios[0]!.odds_ratio)))
    expect(wrapper.text()).toContain('Are the coefficients the same everywhere?')
    expect(wrapper.text()).toContain(found.same!.test!.name)
  })
  it('says why a stratum is left out, and why there is no test', () => {
    const found = results(name)
    const [first, ...others] = found.strata
    const strata = [{ ...first!, ratios: [], left_out: 'Nobody has the event.' }, ...others]
    const same = { ...found.same!, test: null, reason: 'Not every stratum could be fitted.' }
    const { wrapper } = show(ModelByStratum, name, { results: { ...found, strata, same } })
    expect(wrapper.text()).toContain(`${first!.label} is left out: Nobody has the event.`)
    expect(wrapper.text()).toContain('Not tested for being the same: Not every stratum')
  })
})

describe.each(['odds', 'odds weighted'])('panels of %s', (name) => {
  it('tell what each step gains, with its test', () => {
    const found = foundIn<Schemas['StepsPanel']>(name, 'steps')
    const { wrapper } = show(StepsPanel, name, { found })
    for (const { titles, test } of found.steps) {
      expect(wrapper.text()).toContain(titles.join(', '))
      if (test) expect(wrapper.text()).toContain(pValue(test.p))
    }
    // A likelihood is only there where rows are independent.
    expect(wrapper.text().includes('log-likelihood')).toBe(name === 'odds')
  })
  it('say what a small p of the fit means', () => {
    const found = foundIn<Schemas['FitPanel']>(name, 'fit')
    const { wrapper } = show(FitPanel, name, { found, figures: {} })
    expect(wrapper.text()).toContain(found.test!.name)
    expect(wrapper.text()).toContain('A small p means misfit')
  })
})

it('where the fit cannot be tested it is said why', () => {
  const found = foundIn<Schemas['FitPanel']>('odds', 'fit')
  const props = { found: { ...found, test: null, no_test: 'Too few groups.' }, figures: {} }
  expect(show(FitPanel, 'odds', props).wrapper.text()).toContain('Too few groups.')
})

describe('a profile', () => {
  const found = foundIn<Schemas['ProfilePanel']>('odds', 'profile')
  const profile = () => show(ProfilePanel, 'odds', { found, figures: {} })

  it('shows its predicted probability', () => {
    const [prediction] = found.predictions
    expect(profile().wrapper.text()).toContain(percent(prediction!.probability))
  })
  it('keeps what is being typed over a new answer, and takes it when it is done', async () => {
    const { wrapper, changed, answer } = profile()
    const field = wrapper.get<HTMLInputElement>('[aria-label="Age of head, profile A"]')
    field.element.value = '30'
    await field.trigger('input')
    answer.value = { ...answer.value! }
    await nextTick()
    expect(field.element.value).toBe('30')
    await field.trigger('change')
    expect(changed[0]!.options.odds.profiles[0]).toMatchObject({ age: 30, source: '4' })
  })
  it('gives the number back that stood there for nonsense', async () => {
    const { wrapper, changed } = profile()
    const field = wrapper.get<HTMLInputElement>('[aria-label="Age of head, profile A"]')
    field.element.value = 'old'
    await field.trigger('input')
    await field.trigger('change')
    expect(changed).toEqual([])
    expect(field.element.value).toBe('45')
  })
  it('says which numbers lie beyond the data', async () => {
    const { wrapper, asking, answer } = profile()
    expect(wrapper.text()).not.toContain('beyond')
    asking.answer.value.question.options.odds.profiles = [{ age: 130 }]
    answer.value = { ...answer.value! }
    await nextTick()
    expect(wrapper.text()).toContain('beyond 18 to 94')
  })
})
