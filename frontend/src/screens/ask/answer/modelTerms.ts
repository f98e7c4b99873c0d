/** Terms of a model as they are read. */
import type { Schemas } from '@/api/types'
import { freedom, statistic } from '@/design/numbers'

type Term = Pick<Schemas['OddsTerm'], 'role' | 'part_of_interaction' | 'test'>

export const roles = { vary_with: 'vary with', allowing_for: 'allowing for' }

/** The variables of interest first. */
export function interestFirst<T extends Pick<Term, 'role'>>(terms: readonly T[]): T[] {
  const isLater = ({ role }: T) => Number(role !== 'vary_with')
  return [...terms].sort((a, b) => isLater(a) - isLater(b))
}

/** The test of a whole term; a part of an interaction has none that is worth reading. */
export function wholeTest({ part_of_interaction, test }: Term): {
  p: number | null
  title: string
} {
  if (part_of_interaction) return { p: null, title: '' }
  if (!test) return { p: null, title: 'Too few degrees of freedom for so many categories' }
  const dfs = [test.df, test.df2].flatMap((df) => (df == null ? [] : freedom(df))).join(', ')
  const told = test.statistic === null ? '' : `: ${test.sign} ${statistic(test.statistic)}`
  return { p: test.p, title: `${test.name}${told}, df ${dfs}` }
}
