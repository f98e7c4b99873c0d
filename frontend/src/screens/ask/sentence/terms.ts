/** The terms of a sentence: changed, taken out, acting together, and in words. */
import type { Entry, Question } from '@/api/types'
import { labelOf } from '@/parts/kinds'

export type Term = Question['vary_with'][number]
export type TermSlot = 'vary_with' | 'allowing_for'

/** Every variable that stands in the sentence by itself, in either slot. */
export function namesIn(question: Question): string[] {
  return [...question.vary_with, ...question.allowing_for]
    .filter((term) => !term.with)
    .map(({ variable }) => variable)
}

export function changedTerm(question: Question, slot: TermSlot, at: number, term: Term): Question {
  return { ...question, [slot]: question[slot].map((each, i) => (i === at ? term : each)) }
}

/** Without a term; what it acts together with goes too. */
export function withoutTerm(question: Question, gone: Term): Question {
  const stays = (term: Term) =>
    gone.with
      ? !(term.variable === gone.variable && term.with === gone.with)
      : term.variable !== gone.variable && term.with !== gone.variable
  return {
    ...question,
    vary_with: question.vary_with.filter(stays),
    allowing_for: question.allowing_for.filter(stays),
  }
}

/** Two variables act together, said once in the slot of the first. */
export function together(question: Question, slot: TermSlot, one: string, other: string): Question {
  const known = [...question.vary_with, ...question.allowing_for].some(
    (term) =>
      (term.variable === one && term.with === other) ||
      (term.variable === other && term.with === one),
  )
  if (known) return question
  return { ...question, [slot]: [...question[slot], { variable: one, with: other }] }
}

/** "against Piped", "per 10 years, bending": how a term enters a model. */
export function wayOf(term: Term | undefined, entry: Entry | undefined): string {
  if (!term || !entry || term.with) return ''
  const { categories, reference, unit } = entry.variable
  if (categories.length)
    return `against ${labelOf(entry.variable, term.reference ?? reference ?? categories[0]!.value)}`
  const per = term.per && term.per !== 1 ? `per ${term.per}${unit ? ` ${unit}` : ''}` : ''
  return [per, term.bend ? 'bending' : ''].filter(Boolean).join(', ')
}
