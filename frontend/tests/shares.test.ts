/** Shares typed beside categories: blanks share what is left, and the words say what will happen. */
import { describe, expect, it } from 'vitest'

import { filledIn, parseRatios } from '@/screens/ask/shares'
import { limitsOf, ratioOf } from '@/screens/ask/shareWords'
import { withoutLayer } from '@/screens/ask/pictures'

const VALUES = ['a', 'b', 'c']

describe('filledIn', () => {
  it.each([
    [{ a: '60' }, { a: 60, b: 20, c: 20 }, 'each blank gets 20'],
    [{ a: '50', b: '25', c: '25' }, { a: 50, b: 25, c: 25 }, 'make up 100'],
    [{ a: '2', b: '1', c: '1' }, { a: 2, b: 1, c: 1 }, 'sum to 4 and will be scaled'],
    [{ a: '12,5', b: '12.5', c: '75%' }, { a: 12.5, b: 12.5, c: 75 }, 'make up 100'],
    [{ a: '120' }, { a: 120 }, 'more than 100'],
    [{}, { a: 100 / 3, b: 100 / 3, c: 100 / 3 }, 'What you leave blank'],
    [{ a: 'half' }, { a: 'half', b: 50, c: 50 }, 'A share is a number'],
    [{ a: '-5', b: '5', c: '100' }, { a: -5, b: 5, c: 100 }, 'make up 100'],
  ])('%o', (typed, shares, words) => {
    const found = filledIn(VALUES, typed as Record<string, string>)
    expect(found.shares).toEqual(shares)
    expect(found.words).toContain(words)
  })
})

describe('parseRatios', () => {
  it.each([
    ['2 : 1 : 1', ['2', '1', '1']],
    ['9:3:3:1', ['9', '3', '3', '1']],
    ['2 1', ['2', '1']],
    ['  ', []],
  ])('%s', (text, parts) => expect(parseRatios(text)).toEqual(parts))
})

describe('withoutLayer', () => {
  it('leaves out layers by name and keeps those without one', () => {
    const spec = { width: 3, layer: [{ name: 'bars' }, { name: 'intervals' }, { mark: 'text' }] }
    expect(withoutLayer(spec, ['intervals', ''])).toEqual({
      width: 3,
      layer: [{ name: 'bars' }, { mark: 'text' }],
    })
  })
})

describe('ratios and limits in tables', () => {
  it.each([
    [0.333, '0.33'],
    [204.098, '204.1'],
    [26406.69, '26,407'],
    ['Infinity' as const, '∞'],
    [null, '—'],
  ])('%s is %s', (value, text) => expect(ratioOf(value)).toBe(text))
  it('limits follow', () => {
    expect(limitsOf([25.94, 26406.7])).toBe('25.94 to 26,407')
    expect(limitsOf([-0.004, 0.0781], 100, 1)).toBe('−0.4 to 7.8')
    expect(limitsOf([-0.0002, 0.001], 100, 1)).toBe('0.0 to 0.1')
    expect(limitsOf(null)).toBe('')
  })
})
