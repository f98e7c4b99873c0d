/**
 * What is being asked and answered, for every part of the screen below `Ask`.
 *
 * Parts read the question and its answer from here, and change the question here.
 */
import { computed, inject, provide, ref, type ComputedRef, type InjectionKey, type Ref } from 'vue'

import type { Asked } from '@/api/answers'
import type {
  AnswerWithFigures,
  DataSet,
  Entry,
  Figures,
  LensOffered,
  Options,
  Question,
  Study,
} from '@/api/types'
import { titleOf } from '@/parts/kinds'

export type Slot = 'among' | 'outcome' | 'vary_with' | 'allowing_for' | 'within' | 'matched'
type LensName = Exclude<keyof Options, 'categories' | 'beside'>

export interface Asking {
  study: Ref<Study>
  dataset: Ref<DataSet>
  codebook: Ref<Entry[]>
  question: Ref<Question>
  lenses: Ref<LensOffered[]>
  mayChange: Ref<boolean>
  /** The answer in view; `isOld` while the next one is made. */
  shown: Ref<AnswerWithFigures | undefined>
  isOld: Ref<boolean>
  /** What is asked of the server for the answer in view. */
  asked: Asked
  change: (next: Question) => void
}

/** What the screen has open, which no question remembers. */
function openThings() {
  const slot = ref<Slot>()
  const panels = ref(new Set<string>())
  const isTransposed = ref(false)
  return { slot, panels, isTransposed }
}

const key: InjectionKey<ReturnType<typeof withWords>> = Symbol('asking')

function withWords(asking: Asking) {
  const { question, codebook, lenses, shown, change } = asking
  const entryOf = (name: string | undefined) =>
    codebook.value.find(({ variable }) => variable.name === name)
  const titled = (name: string | undefined) => {
    const entry = entryOf(name)
    return entry ? titleOf(entry.variable) : (name ?? '')
  }
  return {
    ...asking,
    ...openThings(),
    entryOf,
    titled,
    titlesOf: (names: readonly string[]) => names.map(titled).join(' and '),
    /** The lens the question is asked through, once it is known. */
    lens: computed(() => lenses.value.find((each) => isOf(each, question.value.lens))),
    lensThatGives: (what: LensOffered['gives']) =>
      lenses.value.find(({ gives }) => gives === what)?.name,
    put: (changes: Partial<Question>) => change({ ...question.value, ...changes }),
    setOptions: (changes: Partial<Options>) =>
      change({ ...question.value, options: { ...question.value.options, ...changes } }),
    answer: computed(() => shown.value!.answer),
    figures: computed<Figures>(() => (shown.value?.figures ?? {}) as Figures),
    /** Titles of the two variables of a table, as they were answered. */
    titles: computed(() => {
      const { outcome, vary_with } = shown.value?.answer.question ?? question.value
      return { rows: titled(vary_with[0]?.variable), columns: titled(outcome?.variable) }
    }),
    within: computed(() => {
      const names = shown.value?.answer.question.within ?? []
      return names.map(titled).join(' and ')
    }),
  }
}

/** Whether a lens, or a form of it, has this name. */
export const isOf = ({ name, forms }: LensOffered, lens: string | undefined) =>
  name === lens || forms.some((form) => form === lens)

export function provideAsking(asking: Asking) {
  const all = withWords(asking)
  provide(key, all)
  return all
}

export function useAsking() {
  const found = inject(key)
  if (!found) throw new Error('Nothing is being asked here.')
  return found
}

/** The results of the answer in view, as the lens that asks knows them. */
export function useResults<R>(): ComputedRef<R> {
  const { answer } = useAsking()
  return computed(() => answer.value.results as R)
}

/** What the answer in view was asked otherwise than usual by its lens, and changing that. */
export function useOptions<L extends LensName>(lens: L) {
  const { answer, question, setOptions } = useAsking()
  const options = computed(() => answer.value.question.options[lens])
  const set = (changes: Partial<Options[L]>) =>
    setOptions({ [lens]: { ...question.value.options[lens], ...changes } })
  return { options, set }
}
