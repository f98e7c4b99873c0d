/** The cross-tabulation: percentages in every direction, and its picture pointing at the same cells. */
import { describe, expect, it } from 'vitest'
import { nextTick } from 'vue'

import type { Schemas } from '@/api/types'
import { count, oneDecimal, percent } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import CrossedEvidence from '@/screens/ask/crosstab/CrossedEvidence.vue'
import MeasuresPanel from '@/screens/ask/crosstab/MeasuresPanel.vue'
import SeveralTable from '@/screens/ask/crosstab/SeveralTable.vue'
import { markOf, viewsOf } from '@/screens/ask/crosstab/views'
import { cellsOf, foundIn, resultsOf, sent, show } from './asked'

type Results = Schemas['CrosstabResults']
const table = (name: string) => resultsOf<Results>(name).whole
const evidence = (name = 'crosstab') => show(CrossedEvidence, name, { table: table(name) })
type Shown = ReturnType<typeof evidence>['wrapper']
const cells = (wrapper: Shown) =>
  wrapper.findAll('tbody td:not(.total)').map((cell) => cell.text().replace(/\s+/g, ' '))
const told = (wrapper: Shown) => wrapper.get('[aria-live="polite"]').text()
const picture = (wrapper: Shown) => wrapper.getComponent(FigureView)

describe.each(['crosstab', 'crosstab weighted'])('the table of %s', (name) => {
  const { rows, columns, order, counts, share_within_row, share_within_column } = table(name)
  const [event, other] = order as [number, number]

  it('shows shares within groups with their counts, the event first', () => {
    const { wrapper } = evidence(name)
    expect(columns[event]!.label).toBe('Yes')
    const first = cells(wrapper)
    expect(first[0]).toContain(percent(share_within_row[0]![event]))
    expect(first[0]).toContain(count(counts[0]![event]!))
    expect(first[1]).toContain(percent(share_within_row[0]![other]))
    expect(first).toHaveLength(rows.length * columns.length)
  })
  it('names percentages by what they are of, never by rows and columns', async () => {
    const { wrapper } = evidence(name)
    const ways = wrapper.findAll('[role=radio]')
    const words = ways.map((way) => way.text())
    expect(words[0]).toBe('% within Water source')
    expect(words[2]).toBe('% within Stomach illness')
    expect(words.join()).not.toMatch(/row|column/)
    await ways[2]!.trigger('click')
    expect(cells(wrapper)[0]).toContain(percent(share_within_column[0]![event]))
  })
  it('keeps every number with its pair when it is exchanged', async () => {
    const { wrapper, asking } = evidence(name)
    asking.isTransposed.value = true
    await nextTick()
    expect(wrapper.findAll('tbody th').map((head) => head.text())).toEqual(
      order.map((at) => columns[at]!.label),
    )
    expect(cells(wrapper)[1]).toContain(percent(share_within_row[1]![event]))
    await wrapper.findAll('tbody td:not(.total)')[1]!.trigger('click')
    expect(picture(wrapper).props('marked')).toMatchObject({ row: 1, column: event })
  })
  it('marks the cells that stand out, in colour and in words', () => {
    const { wrapper } = evidence(name)
    const river = rows.findIndex(({ label }) => label === 'River')
    expect(markOf(table(name), river, event)).toMatch(/^more/)
    const marked = wrapper.findAll('tbody td:not(.total)')[river * columns.length]!
    expect(marked.text()).toContain('more than expected')
  })
})

describe('what a weighted table adds', () => {
  it('counts people as sampled, and never weights as people', () => {
    const { wrapper } = evidence('crosstab weighted')
    expect(wrapper.get('thead').text()).toContain('sampled')
    const [first] = table('crosstab weighted').row_totals
    expect(cellsOf(wrapper, 'tbody tr:first-child').at(-1)).toBe(count(first!))
  })
  it('tells limits, standard error and the unweighted share on hover', () => {
    const [first] = viewsOf(table('crosstab weighted'), { rows: 'a', columns: 'b' })
    expect(first!.exact(0, 1)).toMatch(/%; standard error .*; unweighted \d/)
  })
  it('offers what is expected only where counts are compared', () => {
    const shows = (name: string) =>
      viewsOf(table(name), { rows: 'a', columns: 'b' }).map(({ show }) => show)
    expect(shows('crosstab')).toContain('expected')
    expect(shows('crosstab weighted')).not.toContain('expected')
  })
  it('shows shares among the sampled first where cases were sampled', () => {
    const sampled = table('crosstab')
    Object.assign(sampled.groups!, { shares_have_meaning: false })
    expect(viewsOf(sampled, { rows: 'a', columns: 'b' })[0]!.show).toBe('within_columns')
  })
})

describe('the table and its picture', () => {
  const words = (row: number, column: number) =>
    sent('crosstab').answer.answer.reading.cells[row]![column]!
  const [event] = table('crosstab').order as [number]

  it('tells the cell pointed at, and asks to be pointed at', async () => {
    const { wrapper } = evidence()
    expect(told(wrapper)).toContain('Point at a cell')
    const first = wrapper.get('tbody td:not(.total)')
    await first.trigger('mouseenter')
    expect(told(wrapper)).toBe(words(0, event))
    await first.trigger('mouseleave')
    expect(told(wrapper)).toContain('Point at a cell')
  })
  it('is walked through by arrows, and marked by Enter', async () => {
    const { wrapper } = evidence()
    const first = wrapper.get<HTMLElement>('tbody td[tabindex="0"]')
    first.element.focus()
    await first.trigger('keydown', { key: 'ArrowDown' })
    expect(told(wrapper)).toBe(words(1, event))
    await wrapper.findAll('tbody td:not(.total)')[2]!.trigger('keydown', { key: 'Enter' })
    expect(picture(wrapper).props('marked')).toMatchObject({ row: 1, column: event })
    await wrapper.findAll('tbody td:not(.total)')[2]!.trigger('keydown', { key: 'ArrowLeft' })
    expect(told(wrapper)).toBe(words(1, event))
  })
  it('keeps a cell marked until it is clicked again, in both', async () => {
    const { wrapper } = evidence()
    const first = wrapper.get('tbody td:not(.total)')
    await first.trigger('click')
    expect(picture(wrapper).props('marked')).toMatchObject({ row: 0, column: event })
    await first.trigger('click')
    expect(picture(wrapper).props('marked')).toBeNull()
    picture(wrapper).vm.$emit('choose', { row: 1, column: event, text: '' })
    await nextTick()
    expect(wrapper.findAll('td.marked')).toHaveLength(1)
    expect(told(wrapper)).toBe(words(1, event))
  })
  it('forgets marks of an answer that makes way for another', async () => {
    const { wrapper, answer } = evidence()
    await wrapper.get('tbody td:not(.total)').trigger('click')
    answer.value = sent('crosstab').answer
    await nextTick()
    expect(wrapper.find('td.marked').exists()).toBe(false)
  })
  it('draws shares instead of the mosaic', async () => {
    const { wrapper } = evidence()
    const { figures } = sent('crosstab').answer
    expect(picture(wrapper).props('spec')).toEqual(figures.mosaic)
    await wrapper.findAll('.switch button').at(1)!.trigger('click')
    expect(picture(wrapper).props('spec')).toEqual(figures.stacked)
  })
})

describe.each(['crosstab several', 'crosstab several weighted'])('%s', (name) => {
  it('has a line per variable, and each leads to its own table', async () => {
    const lines = resultsOf<Results>(name).several
    const { wrapper, changed } = show(SeveralTable, name, { lines })
    const shown = wrapper.findAll('tbody tr')
    expect(shown).toHaveLength(lines.length)
    await wrapper.get('tbody tr:nth-child(2) button').trigger('click')
    expect(changed[0]!.vary_with.map(({ variable }) => variable)[0]).toBe(lines[1]!.variable)
    expect(changed[0]!.vary_with).toHaveLength(3)
  })
  it('names the test in its heading, and says why a variable has none', () => {
    const lines = resultsOf<Results>(name).several
    const { wrapper } = show(SeveralTable, name, {
      lines: [lines[0]!, { ...lines[1]!, test: null, left_out: 'not in categories' }],
    })
    expect(wrapper.get('thead th:nth-child(3)').attributes('title')).toBe(lines[0]!.test!.name)
    expect(wrapper.get('tbody tr:nth-child(2)').text()).toContain('not in categories')
  })
})

it('measures say what they say, the one that suits leading', () => {
  const found = foundIn<Schemas['MeasuresPanel']>('crosstab', 'measures')
  const { wrapper } = show(MeasuresPanel, 'crosstab', { found })
  expect(wrapper.findAll('tbody tr')).toHaveLength(found.measures.length)
  expect(wrapper.findAll('tr.leads')).toHaveLength(1)
  const weighted = foundIn<Schemas['MeasuresPanel']>('crosstab weighted', 'measures')
  const other = show(MeasuresPanel, 'crosstab weighted', { found: weighted }).wrapper
  expect(other.get('thead').text()).toContain('unweighted')
})

it('departures are written with a true minus sign', async () => {
  const { wrapper } = evidence()
  await wrapper.findAll('[role=radio]')[4]!.trigger('click')
  const [event] = table('crosstab').order as [number]
  const value = table('crosstab').adjusted_residuals[0]![event]!
  expect(value).toBeLessThan(0)
  expect(cells(wrapper)[0]).toContain(oneDecimal(value))
  expect(oneDecimal(value)).toMatch(/^−/)
})
