/** Components mounted as on the Ask screen, on answers that `make_answers.py` had from the server. */
import { readFileSync } from 'node:fs'

import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { mount } from '@vue/test-utils'
import { createPinia } from 'pinia'
import { computed, defineComponent, h, ref, type Component } from 'vue'
import { createVuetify } from 'vuetify'

import type {
  AnswerWithFigures,
  DataSet,
  Entry,
  LensOffered,
  PanelWithFigures,
  Question,
  Study,
} from '@/api/types'
import { provideAsking } from '@/screens/ask/useAsking'

export interface Sent {
  answer: AnswerWithFigures
  panels: Record<string, PanelWithFigures>
  lenses: LensOffered[]
}
interface File {
  answers: Record<string, Sent>
  codebook: Entry['variable'][]
}

const file = JSON.parse(readFileSync('tests/answers.json', 'utf8')) as File
export const names = Object.keys(file.answers)
export const codebook = file.codebook.map((variable) => ({ variable }) as Entry)

/** What the server sent about a question; a copy of its own for every test. */
export function sent(name: string): Sent {
  return structuredClone(file.answers[name]!)
}

/** The results of an answer, as its lens has them. */
export const resultsOf = <R>(name: string) => sent(name).answer.answer.results as R
/** What a panel of an answer found. */
export const foundIn = <P>(name: string, panel: string) =>
  (sent(name).panels[panel]!.panel.opened as Record<string, unknown>)[panel] as P

interface Changes {
  lenses?: LensOffered[]
  dataset?: Partial<DataSet>
  /** What is asked now, where the answer in view is that of the question before. */
  question?: Question
  isOld?: boolean
}

/** A component on an answer of that name: what it changes is asked next, and kept in `changed`. */
export function show(
  component: Component,
  name: string,
  props: Record<string, unknown> = {},
  changes: Changes = {},
) {
  const found = sent(name)
  const changed: Question[] = []
  const question = ref(changes.question ?? found.answer.answer.question)
  const answer = ref<AnswerWithFigures | undefined>(found.answer)
  let asking!: ReturnType<typeof provideAsking>
  const study = ref({ id: 's1', role: 'owner' } as Study)
  const dataset = ref({
    id: 'd1',
    version: 1,
    counted_by: { kind: 'each' },
    ...changes.dataset,
  } as DataSet)
  const Host = defineComponent({
    setup() {
      asking = provideAsking({
        study,
        dataset,
        codebook: ref(codebook),
        question: question as never,
        lenses: ref(changes.lenses ?? found.lenses) as never,
        mayChange: ref(true),
        shown: answer as never,
        isOld: ref(changes.isOld ?? false),
        asked: { study: 's1', dataset: 'd1', version: 1, question: computed(() => question.value) },
        change(next) {
          changed.push(next)
          question.value = next
        },
      })
      return () => h(component, props)
    },
  })
  const queryClient = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  const wrapper = mount(Host, {
    attachTo: document.body,
    global: {
      plugins: [createVuetify(), createPinia(), [VueQueryPlugin, { queryClient }]],
      stubs: { FigureView: true, RouterLink: true },
    },
  })
  return { wrapper, asking, changed, question, answer }
}

type Rows = { findAll: (what: string) => { text: () => string }[] }

/** The texts of the cells of a row, blanks in one piece. */
export const cellsOf = (wrapper: Rows, row: string) =>
  wrapper.findAll(`${row} > td, ${row} > th`).map((cell) => cell.text().replace(/\s+/g, ' '))
