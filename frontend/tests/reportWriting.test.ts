/** What is written is blocks: to the editor and back, what changed, and what others changed meanwhile. */
import { describe, expect, it } from 'vitest'

import { changesBetween, isSame, merged, type Known } from '@/screens/report/changes'
import { blocksOf, documentOf, type Block, type Named } from '@/screens/report/document'
import { reported } from './reported'

const words = (text: string): Block => ({
  type: 'paragraph',
  made: '',
  content: text ? [{ type: 'text', text, bold: false, italic: false }] : [],
})
const named = (...texts: string[]): Named[] =>
  texts.map((text) => ({ name: text[0]!, block: words(text) }))
const knownOf = (blocks: Named[]) =>
  new Map<string, Known>(blocks.map(({ name, block }) => [name, { version: 1, block }]))
const names = (blocks: readonly Named[]) => blocks.map(({ name }) => name).join('')

/** As the server does it. */
function applied(order: string[], known: Map<string, Known>, now: Named[]): string[] {
  let list = [...order]
  for (const change of changesBetween(known, order, now)) {
    if (change.block === null) list = list.filter((name) => name !== change.name)
    else if (change.place) {
      list = list.filter((name) => name !== change.name)
      const at = change.place.after ? list.indexOf(change.place.after) + 1 : 0
      list.splice(at, 0, change.name)
    }
  }
  return list
}

describe('blocks and the editor’s document', () => {
  it('say the same, of every kind of block', () => {
    const { blocks } = reported()
    expect(blocksOf(documentOf(blocks))).toEqual(blocks)
  })

  it('an empty report has a paragraph to write in', () => {
    expect(documentOf([])).toEqual({ type: 'doc', content: [{ type: 'paragraph' }] })
    expect(blocksOf(documentOf([]))).toEqual([])
  })

  it('lists in lists are written one after the other', () => {
    const item = (text: string, ...more: object[]) => ({
      type: 'listItem',
      content: [{ type: 'paragraph', content: [{ type: 'text', text }] }, ...more],
    })
    const inner = { type: 'bulletList', content: [item('b')] }
    const list = {
      type: 'bulletList',
      attrs: { name: 'x' },
      content: [item('a', inner), item('c')],
    }
    const [{ block }] = blocksOf({ type: 'doc', content: [list] }) as [Named]
    const texts = block.type === 'list' && block.items.map(([part]) => 'text' in part! && part.text)
    expect(texts).toEqual(['a', 'b', 'c'])
  })
})

describe('what was written since', () => {
  it('is nothing where nothing was', () => {
    const blocks = named('a', 'b')
    expect(changesBetween(knownOf(blocks), ['a', 'b'], blocks)).toEqual([])
  })

  it('names the version that was seen, and the place of what is new', () => {
    const before = named('a', 'b')
    const changes = changesBetween(knownOf(before), ['a', 'b'], named('a!', 'n', 'b'))
    expect(changes.map(({ name, version, place }) => [name, version, place])).toEqual([
      ['a', 1, null],
      ['n', null, { after: 'a' }],
    ])
  })

  it('brings the server to the order of the page, whatever was moved and removed', () => {
    const before = named(...'abcdef')
    const order = before.map(({ name }) => name)
    for (const wanted of ['fedcba', 'acbdef', 'fabcde', 'bcdefa', 'bd', 'xaybzf', '', 'cxa']) {
      const now = named(...wanted)
      expect(applied(order, knownOf(before), now).join('')).toBe(wanted)
    }
  })

  it('does not mind the order of fields', () => {
    expect(isSame({ a: 1, b: [{ c: null }] }, { b: [{ c: null }], a: 1 })).toBe(true)
    expect(isSame({ a: 1 }, { a: 1, b: 2 })).toBe(false)
    expect(isSame([1, 2], [2, 1])).toBe(false)
  })
})

describe('what others wrote meanwhile', () => {
  it('comes in around what is not sent yet', () => {
    const mine = named('a', 'b mine', 'n')
    const theirs = named('x', 'a theirs', 'b theirs', 'y')
    const found = merged(theirs, mine, new Set(['b', 'n']))
    expect(names(found)).toBe('xabny')
    expect(found[1]!.block).toEqual(words('a theirs'))
    expect(found[2]!.block).toEqual(words('b mine'))
  })

  it('what they removed goes, unless it was changed here', () => {
    const mine = named('a', 'b mine', 'c')
    expect(names(merged(named('a'), mine, new Set(['b'])))).toBe('ab')
  })

  it('what was removed here and not sent yet does not come back', () => {
    expect(names(merged(named('a', 'b', 'c'), named('a', 'c'), new Set(['b'])))).toBe('ac')
  })
})
