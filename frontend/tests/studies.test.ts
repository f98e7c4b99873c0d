/** The list of studies, and naming a new one. */
import { flushPromises, mount } from '@vue/test-utils'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { expect, it } from 'vitest'
import { createMemoryHistory, createRouter } from 'vue-router'

import Studies from '@/screens/studies/Studies.vue'
import { api } from './api'

const nothing = { template: '<p />' }
const screen = () => {
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/', name: 'studies', component: nothing },
      { path: '/studies/:study/ask', name: 'ask', component: nothing },
      { path: '/studies/:study/data', name: 'data', component: nothing },
    ],
  })
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const mounted = mount(Studies, {
    global: {
      plugins: [[VueQueryPlugin, { queryClient }], createPinia(), router],
      stubs: {
        PageHead: true,
        'v-btn': { template: '<button><slot /></button>' },
        'v-text-field': {
          props: ['modelValue', 'label'],
          emits: ['update:modelValue'],
          template:
            '<input :aria-label="label" :value="modelValue" @input="$emit(`update:modelValue`, $event.target.value)" />',
        },
      },
    },
  } as never)
  return { mounted, router }
}
const STUDY = { id: 's1', name: 'Ostra Basin', role: 'owner', datasets: 1, questions: 2 }

it('offers a new study only where it will stay, that is below the list', async () => {
  let arrive!: (studies: object[]) => void
  api.GET.mockReturnValue(new Promise((resolve) => (arrive = resolve)))
  const { mounted } = screen()
  await flushPromises()
  expect(mounted.find('form').exists()).toBe(false)
  arrive([{ ...STUDY, created_at: '2026-03-01T10:00:00Z' }])
  await flushPromises()
  expect(mounted.find('li').text()).toContain('1 data set · 2 questions · since 1 March 2026')
  expect(mounted.find('ul + form').exists()).toBe(true)
})

it('offers a new study where the list could not be read, too', async () => {
  api.GET.mockRejectedValue(new Error('Hobrix cannot be reached.'))
  const { mounted } = screen()
  await flushPromises()
  expect(mounted.text()).toContain('Hobrix cannot be reached.')
  expect(mounted.find('form').exists()).toBe(true)
})

it('asks for a name before it makes a study, and goes to its data then', async () => {
  api.GET.mockResolvedValue([])
  api.POST.mockResolvedValue({ id: 's9' })
  const { mounted, router } = screen()
  await flushPromises()
  await mounted.find('form').trigger('submit')
  expect(mounted.text()).toContain('Give the study a name first.')
  expect(api.POST).not.toHaveBeenCalled()
  await mounted.find('input').setValue('Flood and illness')
  await mounted.find('form').trigger('submit')
  await flushPromises()
  expect(api.POST).toHaveBeenCalledWith('/api/studies', { body: { name: 'Flood and illness' } })
  expect(router.currentRoute.value.fullPath).toBe('/studies/s9/data')
})
