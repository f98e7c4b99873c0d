/** Shares typed beside categories: blanks share what is left, and the words say what will happen. */
import { describe, expect, it } from 'vitest'

import { parseRatios } from '@/parts/typed'
import { filledIn } from '@/screens/ask/distribution/shares'

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
