/** The report's page and what stands beside it, on what the core gave about the demo data. */
import { flushPromises, mount } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick, shallowReactive } from 'vue'

import NumberPicker from '@/screens/report/NumberPicker.vue'
import NumbersInPrint from '@/screens/report/NumbersInPrint.vue'
import { numbersOf } from '@/screens/report/numbers'
import PrintedTable from '@/parts/PrintedTable.vue'
import ReaderList from '@/screens/report/ReaderList.vue'
import ReportList from '@/screens/report/ReportList.vue'
import TwoVersions from '@/screens/report/TwoVersions.vue'
import WrittenPage from '@/screens/report/WrittenPage.vue'
import { api } from './api'
import { mountOnPage, reported } from './reported'

const QUESTION = { id: 'q', title: 'By source?', standing: 'draft', parent: null }
/** What an answer gives; nothing else is answered. */
beforeEach(() => {
  api.GET.mockImplementation((path: string) =>
    path.includes('/questions/') ? Promise.resolve(reported().parts) : new Promise(() => undefined),
  )
})

async function page(looked?: (names: string[]) => void, isReader = false) {
  const props = { blocks: reported().blocks, isReader, questions: [QUESTION] }
  const found = mountOnPage(WrittenPage, props, looked, isReader)
  await flushPromises()
  await nextTick()
  return found
}

describe('the page', () => {
  it('shows numbers as the answers have them, and says of one that it is gone', async () => {
    const { shown } = await page()
    const share = reported()
      .page.parts[1]!.lines.flat()
      .find(({ number }) => number === 'q/event/4/share')!.text
    const [number, gone] = shown.findAll('.live')
    expect(number!.text()).toBe(share)
    expect(gone!.text()).toBe('[no number]')
    expect(gone!.classes()).toContain('gone')
    expect(gone!.attributes('title')).toContain('no such number')
    expect(shown.find('.reference').text()).toBe('Table 1')
  })

  it('marks what has moved, tells what it was, and lets somebody look', async () => {
    const looked = vi.fn()
    const { shown } = await page(looked)
    expect(shown.find('.live').classes()).toContain('moved')
    const note = shown.find('.looked')
    expect(note.text()).toContain('It was 27.0%.')
    await note.find('button').trigger('click')
    expect(looked).toHaveBeenCalledWith(['b1'])
    expect(shown.find('.answer.moved').text()).toContain('has changed since somebody last looked')
  })

  it('draws the table of an answer with label and notes, and says what cannot stand there', async () => {
    const { shown } = await page()
    const [table, , gone] = shown.findAll('.answer')
    expect(table!.find('caption').text()).toMatch(/^Table 1\. “Yes”/)
    expect(table!.text()).toContain('Reference: Piped (Water source).')
    expect(gone!.find('.trouble').text()).toContain('not in the report')
  })

  it('a reader sees it and can change nothing', async () => {
    const { shown } = await page(undefined, true)
    expect(shown.find('[role="toolbar"]').exists()).toBe(false)
    expect(shown.find('.ProseMirror').attributes('contenteditable')).toBe('false')
    expect(shown.find('.looked').text()).toContain('It was')
    expect(shown.find('.looked button').exists()).toBe(false)
  })

  it('what is put in comes after the caret’s block and is written down with a name', async () => {
    const { shown, inner } = await page()
    const sheet = inner.value as InstanceType<typeof WrittenPage>
    sheet.goTo('b0')
    const [name] = sheet.put([{ type: 'flow', question: 'q', caption: '' }])
    await nextTick()
    const [written] = shown.findComponent(WrittenPage).emitted('written')!.at(-1) as [
      { name: string; block: { type: string } }[],
    ]
    expect(written.map(({ block }) => block.type).slice(0, 3)).toEqual([
      'heading',
      'flow',
      'paragraph',
    ])
    expect(written[1]!.name).toBe(name)
    expect(new Set(written.map((each) => each.name)).size).toBe(written.length)
  })

  it('the caret is back at once when a number is taken, so that nothing typed is lost', async () => {
    const { shown, inner } = await page()
    ;(inner.value as InstanceType<typeof WrittenPage>).takeNumber('q', 'event/4/share')
    expect(document.activeElement).toBe(shown.find('.ProseMirror').element)
  })

  it('methods made anew take the place of those made before', async () => {
    const { shown, inner } = await page()
    const sheet = inner.value as InstanceType<typeof WrittenPage>
    const made = (text: string) =>
      [
        {
          type: 'paragraph',
          made: 'methods',
          content: [{ type: 'text', text, bold: false, italic: false }],
        },
      ] as never
    sheet.makeAnew(made('First.'))
    sheet.makeAnew(made('Second.'))
    await nextTick()
    const text = shown.find('.ProseMirror').text()
    expect(text).toContain('Second.')
    expect(text).not.toContain('First.')
  })

  it('what others write comes in without being sent back', async () => {
    const blocks = reported().blocks
    const props = shallowReactive({ blocks, isReader: false, questions: [] })
    const found = mountOnPage(WrittenPage, props as never)
    await flushPromises()
    const before = found.shown.findComponent(WrittenPage).emitted('written')?.length ?? 0
    const theirs = blocks.map((each) =>
      each.name === 'b0'
        ? { ...each, block: { ...each.block, content: [{ type: 'text', text: 'Theirs' }] } }
        : each,
    )
    props.blocks = theirs as never
    await nextTick()
    await nextTick()
    expect(found.shown.find('h1').text()).toBe('Theirs')
    expect(found.shown.findComponent(WrittenPage).emitted('written')?.length ?? 0).toBe(before)
  })
})

describe('a number is found', () => {
  it('by parts of its name, taken with Enter, left with Escape', async () => {
    const { shown } = mountOnPage(NumberPicker, { questions: [QUESTION] })
    await flushPromises()
    const field = shown.find('[role="combobox"]')
    await field.setValue('river share')
    const found = shown.findAll('[role="option"]').map((each) => each.text())
    expect(found[0]).toContain('River, “Yes”: share')
    await field.trigger('keydown', { key: 'ArrowDown' })
    await field.trigger('keydown', { key: 'Enter' })
    const picker = shown.findComponent(NumberPicker)
    expect(picker.emitted('take')![0]).toEqual(['q', 'event/4/share/ci'])
    await field.setValue('Table 1')
    await field.trigger('keydown', { key: 'Enter' })
    expect(picker.emitted('refer')![0]).toEqual(['b2'])
    await field.setValue('nothing like this')
    expect(shown.text()).toContain('No number is called that.')
    await field.trigger('keydown', { key: 'Escape' })
    expect(picker.emitted('leave')).toHaveLength(1)
  })

  it('each once, though two tables say it', () => {
    const said = numbersOf(reported().parts).map(({ label, text }) => `${label}|${text}`)
    expect(new Set(said).size).toBe(said.length)
    expect(said).toContain('Counted|2,346')
  })
})

describe('beside the page', () => {
  it('a printed table gives its numbers by click', async () => {
    const table = reported().parts.tables[0]!
    const shown = mount(PrintedTable, { props: { table: table as never, givesNumbers: true } })
    const button = shown.findAll('button').find((each) => each.text() === '28.1')!
    expect(button.attributes('aria-label')).toBe('Put in River, “Yes”: share: 28.1%')
    await button.trigger('click')
    expect(shown.emitted('take')![0]).toMatchObject([{ key: 'event/4/share' }])
    expect(
      mount(PrintedTable, { props: { table: table as never } })
        .find('button')
        .exists(),
    ).toBe(false)
  })

  it('the reviewers’ list leads to what is there and offers what is not', async () => {
    const items = reported().page.checklist
    const shown = mount(ReaderList, { props: { items } })
    const there = items.filter(({ block }) => block !== null)
    expect(shown.text()).toContain(`${there.length} of 22 found`)
    const offers = items.filter(({ block, offer }) => block === null && offer)
    const buttons = shown.findAll('button')
    expect(buttons).toHaveLength(there.length + offers.length)
    await buttons.find((each) => each.text() === 'Put in who was counted')!.trigger('click')
    expect(shown.emitted('offer')).toEqual([['flow']])
    await buttons.find((each) => each.text() === 'Show')!.trigger('click')
    expect(shown.emitted('go')).toEqual([[there[0]!.block]])
  })

  it('the outline has headings, tables and pictures, and what moved', () => {
    const head = { id: 'r', title: '', tables: 2, pictures: 1, version: 1, style: {} }
    const props = { reports: [head], current: 'r', study: 's', isReader: false, saved: 'saved' }
    const { shown } = mountOnPage(ReportList, props)
    const text = shown.text()
    for (const words of ['Untitled report', 'Results', 'Table 1', 'Figure 1'])
      expect(text).toContain(words)
    expect(text).toContain('2 tables · 1 picture · saved')
    expect(text).toContain('1 number moved')
    expect(text).toContain('has changed')
  })

  it('styles of numbers change one thing at a time', async () => {
    const value = { decimal_comma: false, leading_zero: false, p_digits: null, percent_digits: 1 }
    const shown = mount(NumbersInPrint, { props: { value } })
    await shown.findAll('select')[0]!.setValue('comma')
    await shown.findAll('select')[2]!.setValue('2')
    expect(shown.emitted('change')).toEqual([
      [{ ...value, decimal_comma: true }],
      [{ ...value, p_digits: 2 }],
    ])
  })

  it('two versions stand side by side until one is chosen', async () => {
    const { blocks } = reported()
    const theirs = { ...blocks[1]!, version: 3, changed_by: 'ana', changed_at: '' }
    const shown = mount(TwoVersions, { props: { theirs: [theirs] } })
    expect(shown.text()).toContain('ana has changed this meanwhile')
    expect(shown.text()).toContain('Share …, see')
    const [keep, take] = shown.findAll('button')
    await keep!.trigger('click')
    await take!.trigger('click')
    expect(shown.emitted('settle')!.map(([, keeps]) => keeps)).toEqual([true, false])
  })
})
