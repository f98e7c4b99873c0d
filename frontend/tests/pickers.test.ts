/** Choosing by typing and by keys: variables, answers, and where to go. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { DOMWrapper, flushPromises, mount } from '@vue/test-utils'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'
import { createVuetify } from 'vuetify'

import type { Entry } from '@/api/types'
import { keys } from '@/api/queries'
import CommandField from '@/parts/CommandField.vue'
import { useCommandField } from '@/parts/commandField'
import VariablePicker from '@/parts/VariablePicker.vue'
import ChoiceList from '@/screens/ask/sentence/ChoiceList.vue'
import { entry } from './entries'

describe('a variable', () => {
  const entries = [
    entry('ill', ['No', 'Yes'], { label: 'Illness' }),
    entry('age', [], { kind: 'numeric', label: 'Age' }),
    entry('agrees', ['No', 'Yes'], { label: 'Agrées to be visited' }),
    entry('village', ['a', 'b']),
  ]
  const show = (props: object = {}) =>
    mount(VariablePicker, {
      props: { entries, label: 'Outcome', ...props },
      global: { plugins: [createVuetify()] },
      attachTo: document.body,
    })
  type Picker = ReturnType<typeof show>
  const titles = (picker: Picker) => picker.findAll('.title').map((title) => title.text())
  const active = (picker: Picker) => picker.find('.active .title').text()
  const press = (picker: Picker, key: string) => picker.find('input').trigger(`keydown.${key}`)

  it('is found by name or label, whatever the accents, beginnings first', async () => {
    const picker = show()
    await picker.find('input').setValue('AG')
    expect(titles(picker)).toEqual(['Age', 'Agrées to be visited', 'village'])
    await picker.find('input').setValue('agrees to')
    expect(titles(picker)).toEqual(['Agrées to be visited'])
    await picker.find('input').setValue('nonsense')
    expect(picker.text()).toContain('No variable matches “nonsense”.')
    await press(picker, 'enter')
    expect(picker.emitted('choose')).toBeUndefined()
  })

  it('is chosen by arrows and Enter, which stop at the ends', async () => {
    const picker = show({ chosen: 'age' })
    await flushPromises()
    expect(active(picker)).toBe('Age')
    await press(picker, 'up')
    await press(picker, 'up')
    expect(active(picker)).toBe('Illness')
    await press(picker, 'page-down')
    expect(active(picker)).toBe('village')
    expect(picker.find('input').attributes('aria-activedescendant')).toBe(
      picker.find('.active').attributes('id'),
    )
    await press(picker, 'enter')
    expect(picker.emitted('choose')).toEqual([['village']])
  })

  it('that cannot be chosen here says why', async () => {
    const refusal = ({ variable }: Entry) =>
      variable.kind === 'numeric' ? 'is a number' : undefined
    const picker = show({ refusal, chosen: 'age' })
    await press(picker, 'enter')
    await picker.findAll('.option')[1]!.trigger('click')
    expect(picker.emitted('choose')).toBeUndefined()
    expect(picker.findAll('.option')[1]!.text()).toContain('is a number')
    expect(picker.findAll('[aria-disabled=true]')).toHaveLength(1)
  })
})

describe('answers of a variable', () => {
  const water = entry('water', ['piped', 'well', 'river'])
  const show = (props: object = {}) =>
    mount(ChoiceList, {
      props: {
        heading: 'Event',
        hint: 'Several count together.',
        entry: water,
        chosen: ['3'],
        ...props,
      },
      attachTo: document.body,
    })

  it('are one, or several in the order of the codebook', async () => {
    const one = show()
    await one.findAll('input')[0]!.trigger('change')
    expect(one.emitted('change')).toEqual([[['1']]])
    const several = show({ multiple: true })
    await several.findAll('input')[0]!.trigger('change')
    await several.findAll('input')[2]!.trigger('change')
    expect(several.emitted('change')).toEqual([[['1', '3']], [[]]])
  })

  it('are taken by Enter, which on a button presses that', async () => {
    const list = show()
    await list.find('button[type=button]').trigger('keydown.enter')
    expect(list.emitted('done')).toBeUndefined()
    await list.find('button[type=button]').trigger('click')
    expect(list.emitted('back')).toHaveLength(1)
    await list.findAll('input')[1]!.trigger('keydown.enter')
    expect(list.emitted('done')).toHaveLength(1)
  })
})

describe('where to go', () => {
  const place = { name: '', template: '<i />' }
  const named = (name: string, path: string) => ({ name, path, component: place })
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      named('studies', '/'),
      named('ask', '/s/:study/ask/:question?'),
      named('data', '/s/:study/data/:dataset?'),
      named('codebook', '/s/:study/codebook/:dataset?'),
      ...['compare', 'report', 'people'].map((name) => named(name, `/s/:study/${name}`)),
    ],
  })
  const known = new QueryClient({
    defaultOptions: { queries: { staleTime: Infinity, retry: false } },
  })

  beforeEach(async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new Error('nothing is asked')))
    known.setQueryData(keys.studies, [{ id: 's1', name: 'Ostra Basin' }])
    known.setQueryData(keys.datasets('s1'), [{ id: 'd1', is_draft: false }])
    known.setQueryData(keys.questions('s1'), [])
    known.setQueryData(keys.codebook('s1', 'd1'), [
      entry('soap', ['No', 'Yes'], { label: 'Soap at home' }),
    ])
    await router.push('/s/s1/ask')
  })
  afterEach(() => vi.unstubAllGlobals())

  async function open() {
    const pinia = createPinia()
    setActivePinia(pinia)
    mount(CommandField, {
      global: {
        plugins: [createVuetify(), pinia, router, [VueQueryPlugin, { queryClient: known }]],
      },
      attachTo: document.body,
    })
    window.dispatchEvent(new KeyboardEvent('keydown', { key: 'k', ctrlKey: true }))
    await flushPromises()
    const there = new DOMWrapper(document.body)
    const field = there.find('[role=combobox]')
    const go = async (typed: string) => {
      await field.setValue(typed)
      await field.trigger('keydown.enter')
    }
    return { there, field, go }
  }

  it.each([
    ['data', '/s/s1/data'],
    ['compare', '/s/s1/compare'],
    ['report', '/s/s1/report'],
    ['people', '/s/s1/people'],
    ['soap', '/s/s1/codebook/d1?variable=soap'],
    ['all stud', '/'],
  ])('“%s” leads to %s', async (typed, path) => {
    const { go } = await open()
    await go(typed)
    // An open dialog looks at every move first, a moment later.
    await vi.waitFor(() => expect(router.currentRoute.value.fullPath).toBe(path))
    expect(useCommandField().isOpen).toBe(false)
  })

  it('says that nothing has such a name, and stays', async () => {
    const { there, go } = await open()
    await go('zzz')
    expect(useCommandField().isOpen).toBe(true)
    expect(there.text()).toContain('Nothing here is called “zzz”.')
  })
})
