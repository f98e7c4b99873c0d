/** Known totals pasted from elsewhere, and strata taken together. */
import { describe, expect, it } from 'vitest'

import { design, takenTogether } from '@/screens/data/design'
import { pastedTotals } from '@/screens/data/totals'

const ROWS = [
  { value: '1', label: 'North' },
  { value: '2', label: 'South' },
  { value: '3', label: 'West' },
]

describe('pastedTotals', () => {
  it.each([
    ['one number is simply typed', '9000', 0, undefined],
    ['words alone fill nothing', 'North\nSouth', 0, undefined],
    ['a column from the field on', '10\n20', 1, { 2: '10', 3: '20' }],
    ['more lines than fields', '1\n2\n3\n4', 0, { 1: '1', 2: '2', 3: '3' }],
    ['labels in any order', 'West\t5\nNorth\t7', 0, { 1: '7', 3: '5' }],
    ['values, and strangers passed over', '2\t40\nEast\t9', 0, { 2: '40' }],
    ['shares and thousands', 'North\t12,5%\nSouth\t1 250', 0, { 1: '12,5', 2: '1250' }],
  ])('%s', (_what, text, from, found) => {
    expect(pastedTotals(text, ROWS, from)).toEqual(found)
  })
})

describe('takenTogether', () => {
  it.each([
    ['two', [], 'a', 'b', [['b', 'a']]],
    ['one more joins a group', [['b', 'a']], 'c', 'a', [['b', 'a', 'c']]],
    [
      'two groups become one',
      [
        ['a', 'b'],
        ['c', 'd'],
      ],
      'd',
      'a',
      [['a', 'b', 'c', 'd']],
    ],
    [
      'others stay',
      [['x', 'y']],
      'a',
      'b',
      [
        ['x', 'y'],
        ['b', 'a'],
      ],
    ],
  ])('%s', (_what, together, one, other, found) => {
    expect(takenTogether(design('w', { together }), one, other)).toEqual(found)
  })
})
