/** A table of counts typed or pasted, and what a newer file changed. */
import { DOMWrapper, flushPromises, mount, RouterLinkStub } from '@vue/test-utils'
import { createPinia } from 'pinia'
import { describe, expect, it } from 'vitest'
import { createVuetify } from 'vuetify'

import type { DataSet, Study } from '@/api/types'
import ReplacementReport from '@/screens/data/ReplacementReport.vue'
import TypedTable from '@/screens/data/TypedTable.vue'
import { api } from './api'

const study = { id: 's1' } as Study
const global = { plugins: [createVuetify(), createPinia()], stubs: { RouterLink: RouterLinkStub } }

describe('a typed table', () => {
  const show = () => mount(TypedTable, { props: { study }, global })
  type Form = ReturnType<typeof show>
  const at = (form: Form, row: number, column: number) =>
    form.find(`[aria-label="Count in row ${row}, column ${column}"]`)
  const pasted = async (form: Form, text: string) => {
    const event = new Event('paste', { cancelable: true })
    Object.assign(event, { clipboardData: { getData: () => text } })
    form.find('form').element.dispatchEvent(event)
    await flushPromises()
    return event
  }
  const words = (form: Form, label: string) =>
    form.findAll('button').find((button) => button.text() === label)!
  const sent = () => api.POST.mock.calls.at(-1)![1].body

  it('is sent with its labels and counts, blanks as none', async () => {
    api.POST.mockResolvedValue({ id: 'd9' })
    const form = show()
    await at(form, 1, 1).setValue('1,234')
    await at(form, 2, 2).setValue('6')
    expect(form.text()).toContain('1,240 in all')
    await form.find('form').trigger('submit')
    await flushPromises()
    expect(sent()).toMatchObject({
      name: 'Typed table',
      row_title: 'Group',
      column_title: 'Answer',
      counts: [
        [1234, 0],
        [0, 6],
      ],
    })
    expect(form.emitted('brought')).toEqual([[{ id: 'd9' }]])
  })

  it.each(['1.5', '-3', 'many'])('with “%s” is not sent: it is no count', async (text) => {
    const form = show()
    await at(form, 1, 2).setValue(text)
    expect(at(form, 1, 2).classes()).toContain('wrong')
    await form.find('form').trigger('submit')
    expect(form.text()).toContain(`“${text}” is not a count: whole numbers, 0 or more.`)
    expect(api.POST).not.toHaveBeenCalled()
  })

  it('grows and shrinks, down to one column, which is one variable', async () => {
    api.POST.mockResolvedValue({ id: 'd9' })
    const form = show()
    await words(form, '+ row').trigger('click')
    await words(form, '+ column').trigger('click')
    expect(form.findAll('.cell')).toHaveLength(9)
    for (const label of ['Remove column 3', 'Remove column 2', 'Remove row 2'])
      await form.find(`[aria-label="${label}"]`).trigger('click')
    expect(form.findAll('.cell')).toHaveLength(2)
    expect(form.text()).not.toContain('Columns are')
    await form.find('form').trigger('submit')
    expect(sent()).toMatchObject({ column_title: null, columns: ['n'], counts: [[0], [0]] })
  })

  it('is filled by what is pasted, and a single cell is pasted as usual', async () => {
    const form = show()
    const table = await pasted(form, 'Source\tIll\tWell\nRiver\t107\t234\nPiped\t118\t849\n')
    expect(table.defaultPrevented).toBe(true)
    expect((at(form, 2, 2).element as HTMLInputElement).value).toBe('849')
    expect((form.find('[placeholder="Water source"]').element as HTMLInputElement).value).toBe(
      'Source',
    )
    expect((await pasted(form, '12')).defaultPrevented).toBe(false)
    expect((at(form, 2, 2).element as HTMLInputElement).value).toBe('849')
  })

  it('shows why the server refuses it, and keeps what was typed', async () => {
    api.POST.mockRejectedValueOnce(new Error('Two rows are called “River”.'))
    const form = show()
    await at(form, 1, 1).setValue('5')
    await form.find('form').trigger('submit')
    await flushPromises()
    expect(form.text()).toContain('Two rows are called “River”.')
    expect((at(form, 1, 1).element as HTMLInputElement).value).toBe('5')
  })
})

describe('what a newer file changed', () => {
  const report = {
    rows_before: 2412,
    rows_after: 2500,
    failed: [{ words: 'Age, banded', why: 'Age is gone' }],
    vanished: ['Age'],
    appeared: ['Height', 'Weight'],
    new_answers: [{ variable: 'Town', values: ['Ford', 'Hill'] }],
    questions: [
      { id: 'q1', title: 'Illness by source', before: '2.1', after: '2.4' },
      { id: 'q2', title: '', before: '1.0', after: '1.0' },
    ],
    answered: [{ variable: 'Illness', before: 2400, after: 2488 }],
  }
  const dataset = { id: 'd1', noun_many: 'households', made: null, report } as never as DataSet
  const show = (more: object = {}) =>
    mount(ReplacementReport, { props: { study, dataset, mayChange: true, ...more }, global })

  it('is said in full: what failed, what went and came, and which questions moved', () => {
    const shown = show()
    expect(shown.find('.head').text()).toContain('A newer file: 2,412 → 2,500 households')
    const said = shown.findAll('dt, dd').map((each: DOMWrapper<Element>) => each.text())
    expect(said).toEqual([
      'Could not be made again',
      'Age, banded: Age is gone',
      'Variables that are gone',
      'Age',
      'New variables',
      'Height, Weight',
      'New answers',
      'Town: Ford, Hill',
      'Questions whose headline moved',
      'Illness by source 2.1 → 2.4',
      'Answered, before and after',
      'Illness 2,400 → 2,488',
    ])
  })

  it('can be hidden, and the older file put back by who may', async () => {
    const shown = show()
    await shown.findAll('button')[0]!.trigger('click')
    expect(shown.find('dl').exists()).toBe(false)
    api.POST.mockResolvedValue({ id: 'd0' })
    await shown.findAll('button')[1]!.trigger('click')
    await flushPromises()
    expect(shown.emitted('put-back')).toEqual([[{ id: 'd0' }]])
    expect(show({ mayChange: false }).text()).not.toContain('Put the older file back')
  })

  it('of data made of others is told as made again, with nothing to put back', () => {
    const shown = show({ dataset: { ...dataset, made: { recipe: 'stack' } } })
    expect(shown.find('.head').text()).toContain('Made again')
    expect(shown.text()).not.toContain('Put the older file back')
  })
})
