/** A question in words, for lists and titles. */
import type { Entry, Question, SavedQuestion, Variable } from '@/api/types'
import { subsetInWords, titleIn } from '@/parts/subset/words'

/** A question with nothing in it; the server fills in all else. */
export function emptyQuestion(changes: Partial<Question> = {}): Question {
  const slots = {
    outcome: null,
    vary_with: [],
    allowing_for: [],
    within: [],
    matched: null,
    among: null,
  }
  return { ...slots, counted_by: { kind: 'each' }, ...changes } as unknown as Question
}

/** The answers that count as the event: as asked, otherwise as the codebook says. */
export function eventOf(question: Question, outcome: Variable | undefined): readonly string[] {
  const asked = question.outcome?.event ?? []
  return asked.length ? asked : (outcome?.event ?? [])
}

/** The other answers as the event. */
export function turned(
  question: Question,
  outcome: Variable | undefined,
): Partial<Question> | undefined {
  const event = eventOf(question, outcome)
  if (!outcome || !event.length || !question.outcome) return undefined
  const others = outcome.categories
    .map(({ value }) => value)
    .filter((value) => !event.includes(value))
  return { outcome: { ...question.outcome, event: others } }
}

/** The title somebody gave it, otherwise the sentence. */
export function questionInWords(
  saved: Pick<SavedQuestion, 'title' | 'question'>,
  codebook: Entry[] | undefined,
): string {
  if (saved.title) return saved.title
  const { outcome, vary_with, among } = saved.question
  if (!outcome) return 'A question not yet asked'
  const about = titleIn(codebook, outcome.variable)
  const first = vary_with[0]
  const words = first
    ? `How does ${about} vary with ${titleIn(codebook, first.variable)}?`
    : `How is ${about} distributed?`
  // Some variables are named by a question of their own.
  const asked = words.replace(/\?+$/, '?')
  return among ? `${asked} Among ${subsetInWords(among, codebook)}` : asked
}

/** The same question with this variable first among those the outcome may vary with. */
export function withFirst(question: Question, variable: string): Question {
  const terms = question.vary_with
  const first = terms.find((term) => term.variable === variable)
  if (!first || first === terms[0]) return question
  return { ...question, vary_with: [first, ...terms.filter((term) => term !== first)] }
}

/** "Title: Yes" stands under "Title" as "Yes". */
export function underTitle(label: string, title: string): string {
  return label.startsWith(`${title}: `) ? label.slice(title.length + 2) : label
}
