/** Parts of the codebook: categories in order, what is no answer, and the changes made. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { DOMWrapper, flushPromises, mount } from '@vue/test-utils'
import { createPinia } from 'pinia'
import { describe, expect, it } from 'vitest'
import { createVuetify } from 'vuetify'

import type { DataSet, Entry, MadeStep, Study } from '@/api/types'
import CategoryList from '@/screens/codebook/CategoryList.vue'
import MissingCodes from '@/screens/codebook/MissingCodes.vue'
import MissingInMany from '@/screens/codebook/MissingInMany.vue'
import StepList from '@/screens/codebook/StepList.vue'
import { api } from './api'
import { entry } from './entries'

const place = { study: { id: 's1' } as Study, dataset: { id: 'd1' } as DataSet }
const global = () => ({
  plugins: [
    createVuetify(),
    createPinia(),
    [VueQueryPlugin, { queryClient: new QueryClient() }],
  ] as never,
})

describe('the categories of a variable', () => {
  const often: Entry = {
    ...entry('often', ['never', 'sometimes', 'always'], { event: ['3'], reference: '1' }),
    summary: {
      kind: 'categories',
      counts: [1200, 300, 0],
      different: 3,
      missing: [],
      n_missing: 0,
    } as never,
  }
  const show = (mayChange = true) =>
    mount(CategoryList, { props: { entry: often, mayChange }, global: global() })
  const sent = (list: ReturnType<typeof show>) =>
    list.emitted('step')!.at(-1)![0] as Record<string, unknown>
  const values = (list: ReturnType<typeof show>) =>
    (sent(list).categories as { value: string }[]).map(({ value }) => value)
  const chip = (list: ReturnType<typeof show>, at: number, words: string) =>
    list
      .findAll('.category')
      [at]!.findAll('button')
      .find((button) => button.text() === words)!

  it('shows counts, the share among those who answered, and the longest bar for the largest', () => {
    const list = show()
    expect(list.findAll('.n').map((n) => n.text())).toEqual(['1,200', '300', '0'])
    expect(list.findAll('.n').map((n) => n.attributes('title'))).toEqual(['80.0%', '20.0%', '0.0%'])
    const bars = list.findAll('.fill').map((bar) => (bar.element as HTMLElement).style.width)
    expect(bars).toEqual(['100%', '25%', '0%'])
  })

  it('is put in another order by Alt and the arrow keys, or turned round', async () => {
    const list = show()
    const handles = list.findAll('.handle')
    await handles[2]!.trigger('keydown.up', { altKey: true })
    expect(values(list)).toEqual(['1', '3', '2'])
    await handles[0]!.trigger('keydown.down', { altKey: true })
    expect(values(list)).toEqual(['2', '1', '3'])
    const before = list.emitted('step')!.length
    await handles[0]!.trigger('keydown.up', { altKey: true })
    expect(list.emitted('step')).toHaveLength(before)
    await list.find('.foot button').trigger('click')
    expect(values(list)).toEqual(['3', '2', '1'])
  })

  it('says which answers are the event and which is the reference, and takes both back', async () => {
    const list = show()
    expect(chip(list, 2, 'event').attributes('aria-pressed')).toBe('true')
    await chip(list, 1, 'event').trigger('click')
    expect(sent(list).event).toEqual(['3', '2'])
    await chip(list, 2, 'event').trigger('click')
    expect(sent(list).event).toEqual([])
    await chip(list, 1, 'reference').trigger('click')
    expect(sent(list)).toMatchObject({ reference: '2', clear_reference: false })
    await chip(list, 0, 'reference').trigger('click')
    expect(sent(list)).toMatchObject({ reference: null, clear_reference: true })
  })

  it('takes a new label, and puts back the old one where none is left', async () => {
    const list = show()
    const label = list.find('[aria-label="Label of 2"]')
    await label.setValue(' now and then ')
    expect((sent(list).categories as { label: string }[])[1]!.label).toBe('now and then')
    const before = list.emitted('step')!.length
    await label.setValue('  ')
    expect(list.emitted('step')).toHaveLength(before)
    expect((label.element as HTMLInputElement).value).toBe('sometimes')
  })

  it('is combined where one is dropped on the middle of another', async () => {
    const list = show()
    const target = list.findAll('.category')[1]!
    target.element.getBoundingClientRect = () => ({ top: 0, height: 100 }) as DOMRect
    await list.findAll('.handle')[0]!.trigger('dragstart')
    await target.trigger('dragover', { clientY: 50 })
    expect(target.classes()).toContain('combine')
    await target.trigger('drop')
    expect(list.emitted('combine')).toEqual([['1', '2']])
    await list.findAll('.handle')[0]!.trigger('dragstart')
    await target.trigger('dragover', { clientY: 95 })
    await target.trigger('drop')
    expect(values(list)).toEqual(['2', '1', '3'])
  })

  it('is only read by who may not change it', () => {
    const list = show(false)
    expect(list.findAll('button').every((each) => each.attributes('disabled') !== undefined)).toBe(
      true,
    )
    expect(list.find('.foot').text()).toBe('')
  })
})

describe('what is no answer', () => {
  const asked: Entry = {
    ...entry('ill', ['No', 'Yes'], { missing: [{ value: '99', label: 'refused' }] }),
    summary: {
      kind: 'categories',
      counts: [5, 5],
      different: 2,
      n_missing: 14,
      missing: [
        { value: '', label: '', n: 4 },
        { value: '99', label: 'refused', n: 10 },
      ],
    } as never,
  }
  const show = (of = asked, mayChange = true) =>
    mount(MissingCodes, { props: { entry: of, mayChange }, global: global() })
  const sent = (list: ReturnType<typeof show>) => list.emitted('step')?.at(-1)?.[0]

  it('is listed with its reason and its rows, blanks without a way to make them answers', () => {
    const list = show()
    expect(list.findAll('.code').map((code) => code.text())).toEqual([
      'blank4',
      '9910 is an answer',
    ])
    expect(show(entry('ill', ['No', 'Yes'])).text()).toContain('Every row has an answer.')
  })

  it('is declared, given a reason, or taken back', async () => {
    const list = show()
    const field = list.find('[aria-label="Value that is not an answer"]')
    await field.setValue(' 98 ')
    await list.find('form').trigger('submit')
    expect(sent(list)).toEqual({
      step: 'declare_missing',
      variables: ['ill'],
      codes: [{ value: '98', label: '' }],
    })
    expect((field.element as HTMLInputElement).value).toBe('')
    await list.find('[aria-label="Reason for 99"]').setValue('not asked')
    expect(sent(list)).toMatchObject({ codes: [{ value: '99', label: 'not asked' }] })
    await list.find('[aria-label="99 is an answer"]').trigger('click')
    expect(sent(list)).toEqual({ step: 'count_as_answer', variables: ['ill'], values: ['99'] })
  })

  it('is not declared twice', async () => {
    const list = show()
    await list.find('[aria-label="Value that is not an answer"]').setValue('99')
    await list.find('form').trigger('submit')
    expect(sent(list)).toBeUndefined()
  })
})

describe('a code in many variables', () => {
  const codebook = [entry('ill', ['No'], { label: 'Illness' }), entry('age', []), entry('sex', [])]
  const open = async () => {
    const menu = mount(MissingInMany, {
      props: { ...place, codebook },
      global: global(),
      attachTo: document.body,
    })
    await menu.find('button').trigger('click')
    await flushPromises()
    const there = new DOMWrapper(document.body)
    const look = async (value: string) => {
      await there.find('[aria-label="Value"]').setValue(value)
      await there.find('form.ask').trigger('submit')
      await flushPromises()
    }
    return { there, look }
  }

  it('is looked for, and declared where it stands and is no answer yet', async () => {
    api.GET.mockResolvedValue([
      { variable: 'ill', n: 3, is_missing: false },
      { variable: 'age', n: 12, is_missing: true },
      { variable: 'sex', n: 1, is_missing: false },
    ])
    api.POST.mockResolvedValue({ words: '“99” is not an answer' })
    const { there, look } = await open()
    await look(' 99 ')
    expect(api.GET.mock.calls[0]![1].params.query).toEqual({ value: '99' })
    const lines = there.findAll('.list label').map((label) => label.text())
    expect(lines).toEqual(['Illness3', 'agealready', 'sex1'])
    await there.findAll('.list input')[2]!.setValue(false)
    await there.find('[aria-label="Reason"]').setValue('refused')
    await there.findAll('form')[1]!.trigger('submit')
    await flushPromises()
    expect(api.POST.mock.calls[0]![1].body).toEqual({
      step: {
        step: 'declare_missing',
        variables: ['ill'],
        codes: [{ value: '99', label: 'refused' }],
      },
      seen: { ill: 1 },
    })
  })

  it('says where it is nowhere, and what went wrong', async () => {
    const { there, look } = await open()
    api.GET.mockResolvedValueOnce([])
    await look('77')
    expect(there.text()).toContain('No variable holds “77”.')
    api.GET.mockRejectedValueOnce(new Error('The data are away.'))
    await look('78')
    expect(there.text()).toContain('The data are away.')
  })
})

describe('the changes made', () => {
  const step = (id: number, is_active = true, effect: object = {}): MadeStep =>
    ({ id, words: `Change ${id}`, is_active, effect }) as never
  const show = async (steps: MadeStep[], mayChange = true) => {
    api.GET.mockResolvedValue(steps)
    const list = mount(StepList, { props: { ...place, mayChange }, global: global() })
    await flushPromises()
    return list
  }

  it('say what each did to answers and categories', async () => {
    const list = await show([
      step(1, true, { before: { answered: 2412 }, after: { answered: 2378 } }),
      step(2, true, {
        before: { answered: 9, categories: 5 },
        after: { answered: 9, categories: 3 },
      }),
      step(3, true, { before: null, after: { answered: 9 } }),
    ])
    expect(list.findAll('small').map((small) => small.text())).toEqual([
      '2,412 → 2,378 answered',
      '5 → 3 categories',
      '9 answered',
    ])
  })

  it('are taken back one by one, all of them shown where there are many', async () => {
    const list = await show([step(1, false), ...[2, 3, 4, 5, 6, 7].map((id) => step(id))])
    expect(list.findAll('li')).toHaveLength(6)
    expect(list.find('ol').attributes('start')).toBe('2')
    await list
      .findAll('button')
      .find((each) => each.text() === 'All 7')!
      .trigger('click')
    expect(list.findAll('li')).toHaveLength(7)
    api.PATCH.mockResolvedValue(undefined)
    await list.find('[aria-label="Make again: Change 1"]').trigger('click')
    expect(api.PATCH.mock.calls[0]![1]).toMatchObject({
      params: { path: { step_id: 1 } },
      body: { is_active: true },
    })
    await list.find('[aria-label="Take back: Change 7"]').trigger('click')
    expect(api.PATCH.mock.calls[1]![1].body).toEqual({ is_active: false })
  })

  it('are undone and redone only where there is something to', async () => {
    const list = await show([step(1)])
    const [undo, redo] = list.findAll('.head button')
    expect(undo!.attributes('disabled')).toBeUndefined()
    expect(redo!.attributes('disabled')).toBeDefined()
    api.POST.mockResolvedValue(undefined)
    await undo!.trigger('click')
    expect(api.POST.mock.calls[0]![0]).toMatch(/steps\/undo$/)
    expect((await show([step(1)], false)).findAll('button')).toHaveLength(0)
    expect((await show([])).text()).toBe('')
  })
})
