import { readFileSync } from 'node:fs'

import { describe, expect, it } from 'vitest'

import {
  count,
  fileSize,
  limits,
  oneDecimal,
  percent,
  plural,
  points,
  pValue,
  ratio,
} from '@/design/numbers'
import { matching } from '@/parts/search'
import { readPasted } from '@/screens/data/pasted'

type Cases = Record<'count' | 'percent' | 'points' | 'ratio' | 'p', [number, string][]>
const cases = JSON.parse(readFileSync('../tests/formats.json', 'utf8')) as Cases

describe('numbers are written as the server writes them', () => {
  it.each(cases.count)('count %d', (value, text) => expect(count(value)).toBe(text))
  it.each(cases.percent)('percent %d', (value, text) => expect(percent(value)).toBe(text))
  it.each(cases.points)('points %d', (value, text) => expect(points(value)).toBe(text))
  it.each(cases.ratio)('ratio %d', (value, text) => expect(ratio(value)).toBe(text))
  it.each(cases.p)('p %d', (value, text) => expect(pValue(value)).toBe(text))
})

it('writes differences with a true minus sign and without a negative zero', () => {
  expect(oneDecimal(-2.13)).toBe('−2.1')
  expect(oneDecimal(-0.01)).toBe('0.0')
  expect(oneDecimal(1234.56)).toBe('1,234.6')
})

describe('ratios and limits', () => {
  it.each([
    [0.333, '0.33'],
    [204.098, '204.1'],
    [26406.69, '26,407'],
    ['Infinity' as const, '∞'],
    [null, '—'],
  ])('%s is %s', (value, text) => expect(ratio(value)).toBe(text))
  it('have limits written the same way', () => {
    expect(limits([25.94, 26406.7])).toBe('25.94 to 26,407')
    expect(limits([1.2, 'Infinity'])).toBe('1.20 to ∞')
    expect(limits([-0.004, 0.0781], points)).toBe('−0.4 to 7.8')
    expect(limits([-0.0002, 0.001], points)).toBe('−0.02 to 0.1')
    expect(limits(null)).toBe('')
  })
})

it('writes sizes and plurals', () => {
  expect(fileSize(553)).toBe('553 bytes')
  expect(fileSize(214_000)).toBe('214 kB')
  expect(fileSize(1_500_000)).toBe('1.5 MB')
  expect(plural(1, 'household', 'households')).toBe('1 household')
  expect(plural(0, 'household', 'households')).toBe('0 households')
})

describe('type-ahead', () => {
  const names = ['Water source', 'Home flooded', 'Stored water is covered', 'Schooling']
  const find = (typed: string) => matching(names, typed, (name) => [name])

  it('puts beginnings first, then words, then the inside of words', () => {
    expect(find('wat')).toEqual(['Water source', 'Stored water is covered'])
    expect(find('oo')).toEqual(['Home flooded', 'Schooling'])
  })
  it('does not mind capitals and accents', () => {
    expect(matching(['Éducation'], 'edu', (name) => [name])).toEqual(['Éducation'])
  })
  it('gives all when nothing is typed, none when nothing fits', () => {
    expect(find('  ')).toEqual(names)
    expect(find('zzz')).toEqual([])
  })
})

describe('pasted tables', () => {
  it('takes labels from the first row and column', () => {
    expect(readPasted('Source\tIll\tWell\r\nRiver\t107\t234\r\nPiped\t118\t1,849\r\n')).toEqual({
      corner: 'Source',
      rows: ['River', 'Piped'],
      columns: ['Ill', 'Well'],
      cells: [
        ['107', '234'],
        ['118', '1,849'],
      ],
    })
  })
  it('does without labels', () => {
    const read = readPasted('1\t2\n3\t4')
    expect(read?.rows).toEqual(['row 1', 'row 2'])
    expect(read?.cells[1]).toEqual(['3', '4'])
  })
  it('reads a list of counts, and leaves single words alone', () => {
    expect(readPasted('River\t10\nPiped\t20')?.columns).toEqual(['column 1'])
    expect(readPasted('River')).toBeUndefined()
  })
})
