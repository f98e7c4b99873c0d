/** The terms of a sentence: changed, taken out, and acting together. */
import type { OddsTerm, Question, SurveyTerm } from '@/api/types'

export type Term = Question['vary_with'][number]
type SlotName = 'vary_with' | 'allowing_for'

/** Every variable that stands in the sentence by itself, in either slot. */
export function namesIn(question: Question): string[] {
  return [...question.vary_with, ...question.allowing_for]
    .filter((term) => !term.with)
    .map(({ variable }) => variable)
}

export function changedTerm(question: Question, slot: SlotName, at: number, term: Term): Question {
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
export function together(question: Question, slot: SlotName, one: string, other: string): Question {
  const known = [...question.vary_with, ...question.allowing_for].some(
    (term) =>
      (term.variable === one && term.with === other) ||
      (term.variable === other && term.with === one),
  )
  if (known) return question
  return { ...question, [slot]: [...question[slot], { variable: one, with: other }] }
}

/** Terms of a model in the order they are read: the variables of interest first. */
export function interestFirst<T extends { role: SlotName }>(terms: T[]): T[] {
  const isLater = ({ role }: T) => Number(role !== 'vary_with')
  return [...terms].sort((a, b) => isLater(a) - isLater(b))
}

/** The test of a whole term: by its likelihood, or in a weighted sample Wald's. */
export function wholeTest(term: OddsTerm | SurveyTerm): { p: number | null; title: string } {
  if (term.part_of_interaction) return { p: null, title: '' }
  if ('likelihood_ratio' in term) {
    const { p, df } = term.likelihood_ratio
    return { p, title: `Likelihood ratio, df ${df}` }
  }
  if (!term.wald) return { p: null, title: 'Too few clusters for so many categories' }
  const { adjusted_p, adjusted_f, adjusted_df1, adjusted_df2 } = term.wald
  const title = `Adjusted Wald F ${adjusted_f.toFixed(2)}, df ${adjusted_df1}, ${adjusted_df2}`
  return { p: adjusted_p, title }
}

/** All odds ratios of a model in a line, each with what it is an odds ratio of. */
export function rowsOf<R extends { given: string | null }>(
  terms: readonly { title: string; rows: readonly R[] }[],
): (R & { of: string })[] {
  return terms.flatMap(({ title, rows }) => rows.map((row) => ({ ...row, of: row.given ?? title })))
}
