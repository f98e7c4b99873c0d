/** The data set in view goes along from screen to screen. */
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, expect, it } from 'vitest'
import { nextTick, ref } from 'vue'

import { useInView, useKeptInView } from '@/inView'

beforeEach(() => setActivePinia(createPinia()))

it('screens of a study lead to the data set last shown there, questions to themselves', async () => {
  const shown = ref<string>()
  useKeptInView(
    () => 'study',
    () => shown.value,
  )
  const { placeOf } = useInView()
  expect(placeOf('data', 'study')).toEqual({ name: 'data', params: { study: 'study' } })
  shown.value = 'second'
  await nextTick()
  expect(placeOf('codebook', 'study').params).toEqual({ study: 'study', dataset: 'second' })
  expect(placeOf('ask', 'study').params).toEqual({ study: 'study' })
  expect(placeOf('data', 'another').params).toEqual({ study: 'another' })
  // While nothing is shown yet, what was in view stays.
  shown.value = undefined
  await nextTick()
  expect(placeOf('data', 'study').params).toMatchObject({ dataset: 'second' })
})
