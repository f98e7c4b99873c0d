/** A question in words, for lists and titles. */
import type { Condition, Entry, Question, Rule, SavedQuestion, Subset, Variable } from '@/api/types'
import { labelOf, titleOf } from '@/parts/kinds'

/** A question with nothing in it; the server fills in all else. */
export function emptyQuestion(changes: Partial<Question> = {}): Question {
  const slots = { outcome: null, vary_with: [], allowing_for: [], within: [], among: null }
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

export function entryOf(codebook: Entry[] | undefined, name: string | undefined) {
  return codebook?.find(({ variable }) => variable.name === name)
}

function title(codebook: Entry[] | undefined, name: string): string {
  const entry = entryOf(codebook, name)
  return entry ? titleOf(entry.variable) : name
}

/** The title somebody gave it, otherwise the sentence. */
export function questionInWords(
  saved: Pick<SavedQuestion, 'title' | 'question'>,
  codebook: Entry[] | undefined,
): string {
  if (saved.title) return saved.title
  const { outcome, vary_with, among } = saved.question
  if (!outcome) return 'A question not yet asked'
  const about = title(codebook, outcome.variable)
  const first = vary_with[0]
  const words = first
    ? `How does ${about} vary with ${title(codebook, first.variable)}?`
    : `How is ${about} distributed?`
  // Some variables are named by a question of their own.
  const asked = words.replace(/\?+$/, '?')
  return among ? `${asked} Among ${subsetInWords(among, codebook)}` : asked
}

export function isGroup(rule: Rule): rule is Subset {
  return 'all' in rule || 'any' in rule
}

/** What a rule joins: conditions, and groups of conditions. */
export function rulesOf(subset: Subset | null | undefined): Rule[] {
  if (!subset) return []
  return ('all' in subset ? subset.all : subset.any) as Rule[]
}

export function conditionInWords(condition: Condition, codebook: Entry[] | undefined): string {
  const entry = entryOf(codebook, condition.variable)
  const about = title(codebook, condition.variable)
  if ('is' in condition) {
    const labels = condition.is.map((value) => (entry ? labelOf(entry.variable, value) : value))
    return `${about}: ${labels.join(' or ')}`
  }
  if ('missing' in condition) return `${about} ${condition.missing ? 'not answered' : 'answered'}`
  const { from, to } = condition
  if (to == null) return `${about} ${from} or more`
  return from == null ? `${about} ${to} or less` : `${about} ${from} to ${to}`
}

export function subsetInWords(subset: Subset, codebook: Entry[] | undefined): string {
  const joined = 'all' in subset ? ' and ' : ' or '
  return rulesOf(subset)
    .map((rule) => {
      if (!isGroup(rule)) return conditionInWords(rule, codebook)
      const words = subsetInWords(rule, codebook)
      return rulesOf(rule).length > 1 ? `(${words})` : words
    })
    .join(joined)
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
