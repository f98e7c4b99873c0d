/** Among whom a question is asked: conditions, groups of them, and subsets kept under a name. */
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { flushPromises, mount } from '@vue/test-utils'
import { createPinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { createVuetify } from 'vuetify'

import type { DataSet, Study, Subset } from '@/api/types'
import AmongPicker from '@/parts/subset/AmongPicker.vue'
import { api } from './api'
import { entry } from './entries'

const kept: { id: string; name: string; rule: Subset }[] = []
beforeEach(() => {
  kept.length = 0
  api.GET.mockImplementation(() => Promise.resolve([...kept]))
  api.POST.mockResolvedValue({ rows: 1830, of: 2412 })
})

const codebook = [
  entry('ill', ['No', 'Yes'], { label: 'Illness' }),
  entry('town', ['Norrin', 'Port'], { label: 'Town' }),
  entry('age', [], { kind: 'numeric', label: 'Age' }),
  entry('notes', [], { kind: 'text', label: 'Notes' }),
]
const ILL = { variable: 'ill', is: ['2'] }
const PORT = { variable: 'town', is: ['2'] }
const OLD = { variable: 'age', from: 60, to: null }

async function show(start: Subset | null, role = 'owner') {
  const subset = ref<Subset | null>(start)
  const closed = vi.fn()
  const Host = defineComponent({
    setup: () => () =>
      h(AmongPicker, {
        subset: subset.value,
        codebook,
        study: { id: 's1', role } as Study,
        dataset: { id: 'd1', noun_many: 'households' } as DataSet,
        onChange: (next: Subset | null) => (subset.value = next),
        onClose: closed,
      }),
  })
  const picker = mount(Host, {
    attachTo: document.body,
    global: {
      plugins: [
        createVuetify(),
        createPinia(),
        [VueQueryPlugin, { queryClient: new QueryClient() }],
      ],
    },
  })
  await flushPromises()
  const press = async (words: string, at = 0) => {
    await picker
      .findAll('button')
      .filter((button) => button.text() === words)
      [at]!.trigger('click')
    await flushPromises()
  }
  /** Choose a variable and one of its answers. */
  const put = async (title: string, answer: string) => {
    await picker
      .findAll('.option')
      .find((option) => option.text().includes(title))!
      .trigger('click')
    await picker
      .findAll('label')
      .find((label) => label.text().startsWith(answer))!
      .find('input')
      .setValue(true)
    await picker.find('form').trigger('submit')
    await flushPromises()
  }
  const told = () => picker.findAll('li .text').map((text) => text.text())
  return { picker, subset, closed, press, put, told }
}

describe('conditions', () => {
  it('begin with a variable, which may not be text', async () => {
    const { picker, subset, put, told } = await show(null)
    await picker.findAll('.option')[3]!.trigger('click')
    expect(picker.text()).toContain('text: read it as unordered in the Codebook')
    expect(picker.find('form').exists()).toBe(false)
    await put('Illness', 'Yes')
    expect(subset.value).toEqual({ all: [ILL] })
    expect(told()).toEqual(['Illness: Yes'])
    expect(picker.find('[role=status]').text()).toBe('1,830 of 2,412 households')
  })

  it('hold all together or any of them', async () => {
    const { picker, subset, press, put } = await show({ all: [ILL] } as Subset)
    expect(picker.find('.joined').exists()).toBe(false)
    await press('+ Another condition')
    await put('Town', 'Port')
    expect(subset.value).toEqual({ all: [ILL, PORT] })
    await picker.findAll('.joined input')[1]!.trigger('change')
    expect(subset.value).toEqual({ any: [ILL, PORT] })
  })

  it('are changed where they stand, or left as they are', async () => {
    const { picker, subset, press } = await show({ all: [ILL, OLD] } as Subset)
    await press('Change', 1)
    const from = picker.find('[inputmode=decimal]')
    expect((from.element as HTMLInputElement).value).toBe('60')
    await press('Back')
    expect(subset.value).toEqual({ all: [ILL, OLD] })
    await press('Change', 1)
    await picker.find('[inputmode=decimal]').setValue('65')
    await picker.find('form').trigger('submit')
    expect(subset.value).toEqual({ all: [ILL, { ...OLD, from: 65 }] })
  })

  it('go one by one, and with the last of them the picker closes', async () => {
    const { subset, closed, press } = await show({ all: [ILL, OLD] } as Subset)
    await press('Remove')
    expect(subset.value).toEqual({ all: [OLD] })
    expect(closed).not.toHaveBeenCalled()
    await press('Remove')
    expect(subset.value).toBeNull()
    expect(closed).toHaveBeenCalledOnce()
  })
})

describe('groups of conditions', () => {
  const within = { all: [ILL, { any: [PORT, OLD] }] } as Subset

  it('join the other way than what stands around them', async () => {
    const { subset, press, put, told } = await show({ all: [ILL] } as Subset)
    await press('+ Group')
    await put('Town', 'Port')
    expect(subset.value).toEqual({ all: [ILL, { any: [PORT] }] })
    await press('+ In this group')
    await put('Town', 'Norrin')
    expect(subset.value).toEqual({ all: [ILL, { any: [PORT, { ...PORT, is: ['1'] }] }] })
    expect(told()).toEqual(['Illness: Yes', 'Town: Port', 'Town: Norrin'])
  })

  it('are turned, and go with their last condition', async () => {
    const { subset, press } = await show(within)
    await press('make it all')
    expect(subset.value).toEqual({ all: [ILL, { all: [PORT, OLD] }] })
    await press('Remove', 1)
    expect(subset.value).toEqual({ all: [ILL, { all: [OLD] }] })
    await press('Remove', 1)
    expect(subset.value).toEqual({ all: [ILL] })
  })

  it('keep the place of a condition that is changed inside', async () => {
    const { picker, subset, press } = await show(within)
    await press('Change', 1)
    await picker
      .findAll('label')
      .find((label) => label.text().startsWith('Norrin'))!
      .find('input')
      .setValue(true)
    await picker.find('form').trigger('submit')
    expect(subset.value).toEqual({ all: [ILL, { any: [{ ...PORT, is: ['2', '1'] }, OLD] }] })
  })
})

describe('subsets kept under a name', () => {
  it('are used instead of what was there, and kept by whoever may', async () => {
    kept.push({ id: 'k1', name: 'People at the port', rule: { all: [PORT] } as Subset })
    const { picker, subset, press } = await show({ all: [ILL] } as Subset)
    await press('People at the port')
    expect(subset.value).toEqual({ all: [PORT] })
    api.DELETE.mockResolvedValue(undefined)
    await picker.find('[aria-label="Let People at the port go"]').trigger('click')
    expect(api.DELETE.mock.calls[0]![1].params.path).toEqual({ study_id: 's1', subset_id: 'k1' })
  })

  it('are only used by readers', async () => {
    kept.push({ id: 'k1', name: 'People at the port', rule: { all: [PORT] } as Subset })
    const { picker } = await show({ all: [ILL] } as Subset, 'reader')
    expect(picker.text()).toContain('People at the port')
    expect(picker.find('[aria-label^=Let]').exists()).toBe(false)
  })
})
