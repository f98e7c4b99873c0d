/** What to look at in a variable, and what is decided there by a click. */
import { mount } from '@vue/test-utils'
import { expect, it } from 'vitest'

import type { Look } from '@/api/types'
import ToLookAt from '@/screens/codebook/ToLookAt.vue'
import { entry } from './entries'

const OUTSIDE: Look = {
  text: '999 lies outside the other numbers. Is it an answer?',
  values: ['999'],
  asks: 'is_answer',
}
const twins = (one: string, other: string): Look => ({
  text: `“${one}” and “${other}” differ only in capitals or spaces.`,
  values: [other],
  asks: 'is_same',
})
const MUCH: Look = { text: '30% have no answer.', values: [], asks: null }

function shown(looks: Look[], mayChange = true) {
  const of = { ...entry('town', ['Vale', 'vale', 'Port', 'port']), spelled_twice: ['vale', 'port'] }
  const mounted = mount(ToLookAt, { props: { entry: of, looks, mayChange } })
  const press = async (words: string) => {
    await mounted
      .findAll('button')
      .find((button) => button.text() === words)!
      .trigger('click')
    return mounted.emitted('step')!.at(-1)![0]
  }
  return { mounted, press }
}

it('takes a doubtful value for no answer, or for one', async () => {
  const { mounted, press } = shown([OUTSIDE])
  expect(mounted.findAll('button').map((button) => button.attributes('aria-label'))).toEqual([
    '999: not an answer',
    '999: an answer',
  ])
  expect(await press('Not an answer')).toEqual({
    step: 'declare_missing',
    variables: ['town'],
    codes: [{ value: '999', label: '' }],
  })
  expect(await press('An answer')).toEqual({
    step: 'count_as_answer',
    variables: ['town'],
    values: ['999'],
  })
})

it('makes two spellings one, or says that they differ', async () => {
  const { mounted, press } = shown([twins('Vale', 'vale'), twins('Port', 'port')])
  const words = mounted.findAll('button').map((button) => button.text())
  expect(words).toEqual(['They differ', 'Make them one', 'They differ', 'Make them one'])
  expect(await press('Make them one')).toEqual({
    step: 'one_spelling',
    variable: 'town',
    values: ['vale'],
  })
  expect(await press('They differ')).toEqual({
    step: 'count_as_answer',
    variables: ['town'],
    values: ['vale'],
  })
})

it('only says what nothing is to be decided of, and all of it to readers', () => {
  expect(shown([MUCH]).mounted.text()).toBe('30% have no answer.')
  expect(shown([MUCH]).mounted.find('button').exists()).toBe(false)
  expect(
    shown([OUTSIDE, twins('a', 'A')], false)
      .mounted.find('button')
      .exists(),
  ).toBe(false)
  expect(shown([]).mounted.find('.looks').exists()).toBe(false)
})
