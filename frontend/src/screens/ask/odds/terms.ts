/** Terms of an odds model as they are read. */
import type { Schemas } from '@/api/types'

/** All odds ratios of a model in a line, each with what it is an odds ratio of. */
export function rowsOf(terms: readonly Schemas['OddsTerm'][]) {
  return terms.flatMap(({ title, rows }) => rows.map((row) => ({ ...row, of: row.given ?? title })))
}
