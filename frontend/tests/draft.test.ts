/** What somebody is typing stays while the screen around it is drawn anew. */
import { mount, type DOMWrapper } from '@vue/test-utils'
import { expect, it } from 'vitest'

import type { OddsResults, Question } from '@/api/types'
import ProfilePanel from '@/screens/ask/ProfilePanel.vue'
import { withOptions } from '@/screens/ask/options'
import { emptyQuestion } from '@/screens/ask/words'

const answered = (probability: number) =>
  ({
    slots: [
      { variable: 'age', title: 'Age', categories: [], usual: 45, low: 18, high: 94 },
      {
        variable: 'sex',
        title: 'Sex',
        categories: [['m', 'Man']],
        usual: 'm',
        low: null,
        high: null,
      },
    ],
    predictions: [{ probability, ci: [0.1, 0.3] }],
    curve: null,
  }) as unknown as OddsResults['whole']
const question = withOptions(emptyQuestion(), { profiles: [{ age: 45, sex: 'm' }] })
const show = () =>
  mount(ProfilePanel, { props: { model: answered(0.2), event: 'Yes', figures: {}, question } })

/** Types without leaving the field. */
async function type(
  field: Pick<DOMWrapper<HTMLInputElement>, 'element' | 'trigger'>,
  text: string,
) {
  field.element.value = text
  await field.trigger('input')
}

it('a number in a profile that is not taken yet outlives a new answer', async () => {
  const panel = show()
  const field = panel.get<HTMLInputElement>('[aria-label="Age, profile A"]')
  await type(field, '300')
  await panel.setProps({ model: answered(0.25) })
  expect(panel.text()).toContain('25.0%')
  expect(field.element.value).toBe('300')
  await field.trigger('change')
  const [changed] = panel.emitted<[Question]>('change')!.at(-1)!
  expect(changed.options.profiles).toEqual([{ age: 300, sex: 'm' }])
})

it('nonsense in a profile gives the number back that stood there', async () => {
  const panel = show()
  const field = panel.get<HTMLInputElement>('[aria-label="Age, profile A"]')
  await type(field, 'old')
  await field.trigger('change')
  expect(panel.emitted('change')).toBeUndefined()
  expect(field.element.value).toBe('45')
})
