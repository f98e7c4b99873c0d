/** Two or three questions that data themselves suggest. */
import type { Variable } from '@/api/types'
import { canBeAsked, isCategorical } from '@/parts/kinds'

interface Example {
  outcome: Variable
  by?: Variable
}

const between = (from: number, to: number) => (variable: Variable) =>
  isCategorical(variable) && variable.categories.length >= from && variable.categories.length <= to

/** 0 and 1, which stand for whether something is so. */
const isOnOrOff = ({ categories }: Variable) =>
  categories.length === 2 && categories.every(({ value }) => value === '0' || value === '1')

export function firstQuestions(variables: readonly Variable[]): Example[] {
  const categorical = variables.filter(isCategorical)
  // Of a typed table of two, columns are the outcome; and questionnaires begin with who people are.
  const last = categorical.length === 2 ? categorical[1] : undefined
  const outcome =
    variables.find((each) => each.event.length) ??
    last ??
    categorical.filter(isOnOrOff).at(-1) ??
    variables.filter(between(2, 2)).at(-1) ??
    variables.find(between(3, 12))
  if (!outcome) {
    const first = variables.find(canBeAsked)
    return first ? [{ outcome: first }] : []
  }
  const others = variables.filter(({ name }) => name !== outcome.name)
  const by = others.find(between(3, 8)) ?? others.find(between(2, 12))
  const second = others.find((each) => each !== by && between(2, 8)(each))
  return [
    { outcome },
    ...(by ? [{ outcome, by }] : []),
    ...(second ? [{ outcome, by: second }] : []),
  ]
}
