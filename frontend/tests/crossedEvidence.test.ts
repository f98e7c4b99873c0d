/** A table and its picture: what is pointed at in one is told and marked in the other. */
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import { createVuetify } from 'vuetify'

import FigureView from '@/parts/FigureView.vue'
import CrossedEvidence from '@/screens/ask/CrossedEvidence.vue'
import { plainCells } from '@/screens/ask/crosstabView'
import { table } from './entries'

const titles = { rows: 'Water source', columns: 'Illness' }
// Sentences by row and column as counted; the event, the second column, is shown first.
const cells = [
  ['piped, well', 'piped, ill'],
  ['river, well', 'river, ill'],
]

function show() {
  return mount(CrossedEvidence, {
    props: {
      table: plainCells(table, titles),
      titles,
      noun: 'households',
      totals: 'households',
      cells,
      figures: { mosaic: { of: 'mosaic' }, stacked: { of: 'shares' } },
    },
    global: { plugins: [createVuetify()], stubs: { FigureView: true } },
  })
}
const told = (shown: ReturnType<typeof show>) => shown.get('[aria-live="polite"]').text()
const picture = (shown: ReturnType<typeof show>) => shown.getComponent(FigureView)

describe('the cross-tabulation with its picture', () => {
  it('tells the cell pointed at, and asks to be pointed at', async () => {
    const shown = show()
    expect(told(shown)).toContain('Point at a cell')
    const first = shown.get('tbody td.cell')
    await first.trigger('mouseenter')
    expect(told(shown)).toBe('piped, ill')
    await first.trigger('mouseleave')
    expect(told(shown)).toContain('Point at a cell')
  })
  it('keeps a cell marked in the picture until it is clicked again', async () => {
    const shown = show()
    const last = shown.findAll('tbody td.cell').at(-1)!
    await last.trigger('click')
    expect(picture(shown).props('marked')).toMatchObject({ row: 1, column: 0 })
    expect(told(shown)).toBe('river, well')
    await last.trigger('click')
    expect(picture(shown).props('marked')).toBeNull()
  })
  it('marks in the table what is chosen in the picture', async () => {
    const shown = show()
    picture(shown).vm.$emit('choose', { row: 1, column: 1, text: '' })
    await nextTick()
    expect(shown.get('td.marked').text()).toMatch(/^31\.4%/)
    expect(told(shown)).toBe('river, ill')
  })
  it('forgets marks of an answer that makes way for another', async () => {
    const shown = show()
    await shown.get('tbody td.cell').trigger('click')
    await shown.setProps({ cells: cells.map((row) => [...row]) })
    expect(shown.find('td.marked').exists()).toBe(false)
    expect(told(shown)).toContain('Point at a cell')
  })
  it('draws shares instead of the mosaic', async () => {
    const shown = show()
    expect(picture(shown).props('spec')).toEqual({ of: 'mosaic' })
    await shown.findAll('.switch button').at(1)!.trigger('click')
    expect(picture(shown).props('spec')).toEqual({ of: 'shares' })
  })
  it('exchanges rows and columns', async () => {
    const shown = show()
    const heads = () => shown.findAll('thead tr:last-child th').map((th) => th.text())
    const before = heads()
    ;(shown.vm as unknown as { transpose: () => void }).transpose()
    await nextTick()
    expect(before[0]).toBe('Water source')
    expect(heads()[0]).toBe('Illness')
    const rows = shown.findAll('tbody th').map((th) => th.text())
    expect(rows).toEqual(before.slice(1, -1))
  })
})
