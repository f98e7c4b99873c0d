/** Kinds of variable as small typographic marks, and in words. */
import type { Kind, Variable } from '@/api/types'

export const kinds: Record<Kind, { mark: string; words: string }> = {
  nominal: { mark: 'A B', words: 'unordered' },
  ordinal: { mark: '1 < 2', words: 'ordered' },
  numeric: { mark: '1.5', words: 'numeric' },
  date: { mark: 'd/m', words: 'dates' },
  text: { mark: 'abc', words: 'text' },
}

export function kindOf(variable: Pick<Variable, 'kind' | 'categories'>) {
  const isCategorical = variable.kind === 'nominal' || variable.kind === 'ordinal'
  if (isCategorical && variable.categories.length === 2)
    return { mark: '0|1', words: 'two answers' }
  return kinds[variable.kind]
}

export function isCategorical(variable: Pick<Variable, 'kind'>): boolean {
  return variable.kind === 'nominal' || variable.kind === 'ordinal'
}

/** Free text and dates are no answers yet; something can be made of them. */
export function canBeAsked(variable: Pick<Variable, 'kind'>): boolean {
  return variable.kind !== 'text' && variable.kind !== 'date'
}

/** Why free text and dates cannot be asked about as they are. */
export function notAsked(variable: Pick<Variable, 'kind'>): string | undefined {
  if (variable.kind === 'date') return 'dates: make bands or a time of them in the Codebook'
  return variable.kind === 'text' ? 'text: read it as unordered in the Codebook' : undefined
}

export function titleOf(variable: Pick<Variable, 'label' | 'name'>): string {
  return variable.label || variable.name
}

/** A title without the marks that end a question, as the server's sentences have it. */
export function withinSentence(variable: Pick<Variable, 'label' | 'name'>): string {
  return titleOf(variable).replace(/[ ?:.]+$/, '') || titleOf(variable)
}

export function labelOf(variable: Pick<Variable, 'categories'>, value: string): string {
  return variable.categories.find((category) => category.value === value)?.label ?? value
}
