/** Answers side by side: numbers, changes, tests and refusals as the server gave them. */
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'

import type { Schemas } from '@/api/types'
import CompareTable from '@/screens/compare/CompareTable.vue'
import { idsIn } from '@/screens/compare/items'
import { compared } from './compared'

const show = (name: string) => {
  const comparison = compared(name)
  return { comparison, shown: mount(CompareTable, { props: { comparison } }) }
}
const texts = (cells: { text: () => string }[]) =>
  cells.map((cell) => cell.text().replace(/\s+/g, ' '))

describe('answers side by side', () => {
  it('say over each column what sets its question apart, and why it is not tested', () => {
    const { shown } = show('crude and adjusted')
    const [, crude, adjusted] = shown.findAll('thead th')
    expect(crude!.text()).toContain('allows for nothing')
    expect(adjusted!.text()).toContain('allows for Age of head and Schooling of head')
    expect(adjusted!.text()).toContain('the same people: shown as change, not tested')
    expect(crude!.text()).toContain('the others are held against this')
  })

  it('write shares in percent, ratios as they are, changes in points or as a quotient', () => {
    const { comparison, shown } = show('two districts')
    const share = comparison.rows.findIndex(({ measure }) => measure === 'share')
    const rows = shown.findAll('tbody tr').filter((row) => row.find('td').exists())
    const cells = texts(rows[share]!.findAll('td'))
    expect(cells[0]).toMatch(/^\d+\.\d%\d+\.\d% to \d+\.\d%\d+ of \d+$/)
    expect(cells[1]).toMatch(/points ?\(.* to .*\)(they differ|no clear difference)$/)
    const odds = comparison.rows.findIndex(({ unit }) => unit === 'ratio')
    expect(texts(rows[odds]!.findAll('td'))[1]).toMatch(/× \d/)
  })

  it('mark what differs only where the server says so', () => {
    const { comparison, shown } = show('two districts')
    const apart = comparison.rows
      .flatMap(({ contrasts }) => contrasts)
      .filter((each) => each?.is_apart)
    expect(shown.findAll('.apart')).toHaveLength(apart.length)
  })

  it('refuse cell by cell, with the question that would stand there', async () => {
    const { comparison, shown } = show('another event')
    const refused = shown.findAll('td').filter((cell) => cell.find('.offer').exists())
    expect(refused.length).toBeGreaterThan(0)
    expect(refused[0]!.text()).toContain('the event is')
    await refused[0]!.get('button').trigger('click')
    const [at, question] = shown.emitted('change')![0] as [number, Schemas['Question']]
    expect(question).toEqual(comparison.rows[0]!.cells[at]!.offer!.question)
  })

  it('can be held against another', async () => {
    const { shown } = show('two districts')
    await shown.get('thead .act').trigger('click')
    expect(shown.emitted('to-front')![0]).toEqual([1])
  })

  it('are at most eight of the address', () => {
    expect(idsIn('a,b,,c')).toEqual(['a', 'b', 'c'])
    expect(idsIn('1,2,3,4,5,6,7,8,9,10')).toHaveLength(8)
    expect(idsIn(undefined)).toEqual([])
  })
})
