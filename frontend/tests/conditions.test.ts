/** Among whom: one condition, of answers, numbers, dates or whether something was answered. */
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import type { Condition, Entry } from '@/api/types'
import ConditionEditor from '@/parts/subset/ConditionEditor.vue'
import { entry } from './entries'

const town = entry('town', ['Norrin', 'Port'], { label: 'Town' })
const age: Entry = {
  ...entry('age', [], { kind: 'numeric', label: 'Age', unit: 'years' }),
  summary: { kind: 'numbers', low: 16, high: 88.5, counts: [], n_missing: 7, missing: [] } as never,
}
const seen: Entry = {
  ...entry('seen', [], { kind: 'date', label: 'Visit' }),
  summary: {
    kind: 'dates',
    first: '2025-01-02',
    last: '2025-11-30',
    counts: [],
    n_missing: 0,
    missing: [],
  } as never,
}

function show(of: Entry, condition?: Condition) {
  const form = mount(ConditionEditor, {
    props: { entry: of, condition },
    attachTo: document.body,
  })
  const box = (words: string) =>
    form
      .findAll('label')
      .find((label) => label.text().startsWith(words))!
      .find('input')
  const kept = async () => {
    await form.find('form').trigger('submit')
    return form.emitted('keep')?.at(-1)?.[0]
  }
  return { form, box, kept }
}

describe('answers', () => {
  it('are chosen, at least one of them', async () => {
    const { form, box, kept } = show(town)
    expect(await kept()).toBeUndefined()
    expect(form.text()).toContain('Choose at least one answer.')
    await box('Port').setValue(true)
    expect(await kept()).toEqual({ variable: 'town', is: ['2'] })
  })

  it('are shown as they were chosen before', () => {
    const { box } = show(town, { variable: 'town', is: ['1'] })
    expect((box('Norrin').element as HTMLInputElement).checked).toBe(true)
    expect((box('Port').element as HTMLInputElement).checked).toBe(false)
  })
})

describe('numbers', () => {
  it('reach from one end to the other, or have one end', async () => {
    const { form, box, kept } = show(age)
    expect(form.text()).toContain('16 to 88.5 years; ends included')
    await box('from').setValue('17,5')
    expect(await kept()).toEqual({ variable: 'age', from: 17.5, to: null })
    await box('to').setValue('65')
    expect(await kept()).toEqual({ variable: 'age', from: 17.5, to: 65 })
  })

  it.each([
    ['', '', 'Give a lower or an upper end.'],
    ['old', '', 'Both ends are numbers.'],
    ['70', '17', 'From is above to.'],
  ])('from “%s” to “%s” are refused', async (from, to, words) => {
    const { form, box, kept } = show(age)
    await box('from').setValue(from)
    await box('to').setValue(to)
    expect(await kept()).toBeUndefined()
    expect(form.text()).toContain(words)
  })
})

describe('days', () => {
  it('reach from the first to the last, which are told', async () => {
    const { form, box, kept } = show(seen, {
      variable: 'seen',
      since: '2025-03-01',
      until: null,
    })
    expect(form.text()).toContain('2025-01-02 to 2025-11-30; both days included')
    expect((box('from').element as HTMLInputElement).value).toBe('2025-03-01')
    await box('to').setValue('2025-02-01')
    expect(await kept()).toBeUndefined()
    expect(form.text()).toContain('The first day is after the last.')
    await box('to').setValue('2025-04-01')
    expect(await kept()).toEqual({ variable: 'seen', since: '2025-03-01', until: '2025-04-01' })
  })
})

describe('whether it was answered', () => {
  it('goes before anything else, until an answer is chosen', async () => {
    const { box, kept } = show(town)
    await box('not answered').setValue(true)
    expect(await kept()).toEqual({ variable: 'town', missing: true })
    await box('answered, whatever it is').setValue(true)
    expect(await kept()).toEqual({ variable: 'town', missing: false })
    await box('Norrin').setValue(true)
    expect(await kept()).toEqual({ variable: 'town', is: ['1'] })
  })
})

describe('the keyboard', () => {
  it('takes the condition by Enter in a field, and presses a button by Enter on it', async () => {
    const { form, box } = show(town, { variable: 'town', is: ['1'] })
    await form.find('.foot button').trigger('keydown.enter')
    expect(form.emitted('keep')).toBeUndefined()
    await box('Port').trigger('keydown.enter')
    expect(form.emitted('keep')).toEqual([[{ variable: 'town', is: ['1'] }]])
  })
})
