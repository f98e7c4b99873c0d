/** Long lines of questions: found by words, kept and dropped, folded, with notes. */
import { mount } from '@vue/test-utils'
import { describe, expect, it } from 'vitest'
import { ref } from 'vue'

import type { SavedQuestion, Study } from '@/api/types'
import QuestionLine from '@/screens/ask/lines/QuestionLine.vue'
import { useLines } from '@/screens/ask/lines/useLines'
import { emptyQuestion } from '@/screens/ask/words'
import { router } from './brought'

const saved = (id: string, changes: Partial<SavedQuestion> = {}): SavedQuestion => ({
  id,
  dataset: 'd1',
  parent: null,
  title: `Question ${id}`,
  note: '',
  standing: 'draft',
  question: emptyQuestion({ confidence: 0.95 }),
  version: 1,
  headline: 'OR 2.0',
  is_current: true,
  ...changes,
})

const all = [
  saved('a', { note: 'For **table 2**.' }),
  saved('a1', { parent: 'a' }),
  saved('a2', { parent: 'a', standing: 'kept', headline: 'OR 3.1' }),
  saved('b', { standing: 'dropped' }),
  ...['c', 'd', 'e', 'f'].map((id) => saved(id)),
]
const linesOf = (now?: string) => {
  const current = ref(now)
  return {
    ...useLines(
      () => all,
      () => [],
      () => current.value,
    ),
    current,
  }
}
const ids = (lines: { value: { saved: SavedQuestion }[] }) =>
  lines.value.map((line) => line.saved.id)

describe('a long line of questions', () => {
  it('leaves dropped ones out until they are asked for', () => {
    const { lines, which, dropped, kept, isLong } = linesOf()
    expect(ids(lines)).toEqual(['a', 'a1', 'a2', 'c', 'd', 'e', 'f'])
    expect([dropped.value.length, kept.value.length, isLong.value]).toEqual([1, 1, true])
    which.value = 'dropped'
    expect(ids(lines)).toEqual(['b'])
    which.value = 'kept'
    expect(ids(lines)).toEqual(['a2'])
  })

  it('always shows the one in view', () => {
    const { lines, which } = linesOf('b')
    expect(ids(lines)).toContain('b')
    which.value = 'kept'
    expect(ids(lines)).toEqual(['a2', 'b'])
  })

  it('is searched in words, notes and headlines', () => {
    const { lines, typed } = linesOf()
    typed.value = 'TABLE 2'
    expect(ids(lines)).toEqual(['a'])
    typed.value = '3.1'
    expect(ids(lines)).toEqual(['a2'])
    typed.value = 'nobody asked'
    expect(ids(lines)).toEqual([])
  })

  it('folds follow-ups away, and finds them all the same', () => {
    const { lines, fold, typed } = linesOf()
    expect(lines.value[0]!.followUps).toBe(2)
    fold('a')
    expect(ids(lines)).toEqual(['a', 'c', 'd', 'e', 'f'])
    expect(lines.value[0]!.isFolded).toBe(true)
    typed.value = 'a1'
    expect(ids(lines)).toEqual(['a1'])
    typed.value = ''
    fold('a')
    expect(ids(lines)).toHaveLength(7)
  })
})

describe('a question of the line', () => {
  const show = (question: SavedQuestion, isCurrent = true, mayChange = true) =>
    mount(QuestionLine, {
      props: {
        study: { id: 's1' } as Study,
        line: { saved: question, words: question.title, followUps: 2, isFolded: false },
        isCurrent,
        mayChange,
      },
      global: { plugins: [router()] },
    })

  it('shows its note with emphasis while in view, and its standing in a word', () => {
    const shown = show(all[0]!)
    expect(shown.get('.note strong').text()).toBe('table 2')
    expect(show(all[0]!, false).find('.note').exists()).toBe(false)
    expect(show(all[2]!).get('.mark').attributes('aria-label')).toBe('kept')
  })

  it('is named, annotated and judged; nothing is sent that did not change', async () => {
    const shown = show(all[0]!)
    await shown.findAll('.tools .act')[1]!.trigger('click')
    const field = shown.get<HTMLTextAreaElement>('textarea')
    field.element.value = ' For **table 3**. '
    await field.trigger('blur')
    expect(shown.emitted('change')![0]).toEqual([{ note: 'For **table 3**.' }])
    await shown.findAll('.tools .act')[0]!.trigger('click')
    await shown.get('input').trigger('blur')
    expect(shown.emitted('change')).toHaveLength(1)
    await shown.get('select').setValue('dropped')
    expect(shown.emitted('change')![1]).toEqual([{ standing: 'dropped' }])
  })

  it('offers nothing to change to a reader', () => {
    expect(show(all[0]!, true, false).find('.tools').exists()).toBe(false)
  })
})
