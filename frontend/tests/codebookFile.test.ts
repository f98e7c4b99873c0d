/** A codebook file is looked at, its columns may be taken otherwise, and only then it is used. */
import { flushPromises, mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { createVuetify } from 'vuetify'
import { VBtn, VSelect } from 'vuetify/components'

import type { CodebookSeen, DataSet, Study } from '@/api/types'
import CodebookFile from '@/screens/data/CodebookFile.vue'
import { api } from './api'

const look = (more: Partial<CodebookSeen> = {}): CodebookSeen => ({
  columns: [
    { sheet: '', name: 'what', part: null, example: 'ill' },
    { sheet: '', name: 'label', part: 'label', example: 'Stomach illness' },
  ],
  problem: 'Say which one does.',
  described: 0,
  unknown: [],
  undescribed: ['ill', 'age'],
  ...more,
})
const sent = (call: number) => {
  const [address, { body }] = api.POST.mock.calls[call] as [string, { body: FormData }]
  return { address, columns: JSON.parse((body.get('columns') as string | null) ?? 'null') }
}

async function show() {
  const file = new File(['what,label\n'], 'words.csv')
  const shown = mount(CodebookFile, {
    props: { study: { id: 's' } as Study, dataset: { id: 'd' } as DataSet, file },
    global: { plugins: [createVuetify()] },
  })
  await flushPromises()
  return shown
}

describe('A codebook file', () => {
  it('is not used while it is not known what names the variables', async () => {
    api.POST.mockResolvedValueOnce(look())
    const shown = await show()
    expect(sent(0).address).toMatch('/codebook-file/look')
    expect(shown.get('.problem').text()).toBe('Say which one does.')
    expect(shown.getComponent(VBtn).props('disabled')).toBe(true)
  })

  it('is looked at again when a column is taken otherwise, and used as it was taken', async () => {
    const unknown = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h']
    api.POST.mockResolvedValueOnce(look())
    const shown = await show()
    const told = look({ problem: null, described: 1, undescribed: ['age'], unknown })
    told.columns[0]!.part = 'variable'
    api.POST.mockResolvedValueOnce(told).mockResolvedValueOnce({})
    await shown.findAllComponents(VSelect)[0]!.setValue('variable')
    await flushPromises()
    expect(sent(1).columns[0]).toMatchObject({ name: 'what', part: 'variable' })
    expect(shown.text()).toContain('“words.csv” describes 1 of 2 variables.')
    expect(shown.text()).toContain('Not in it: age.')
    expect(shown.text()).toContain('Not in the data: a, b, c, d, e, f and 2 more.')
    expect(shown.emitted('used')).toBeUndefined()
    await shown.getComponent(VBtn).trigger('click')
    await flushPromises()
    expect(sent(2).address).not.toMatch('/look')
    expect(sent(2).columns[0]).toMatchObject({ part: 'variable' })
    expect(shown.emitted('used')).toHaveLength(1)
  })

  it('says why it cannot be read, and can be put away', async () => {
    api.POST.mockRejectedValueOnce(new Error('Line 3 is not valid XML.'))
    const shown = await show()
    expect(shown.text()).toContain('Line 3 is not valid XML.')
    expect(shown.findComponent(VBtn).exists()).toBe(false)
    await shown.get('button.act').trigger('click')
    expect(shown.emitted('away')).toHaveLength(1)
  })
})
