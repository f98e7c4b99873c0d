/** What the cross-tabulation shows in its cells, and in which direction. */
import type { Crosstab } from '@/api/types'
import { count, oneDecimal, percent } from '@/design/numbers'

export type Show =
  'counts' | 'within_rows' | 'within_columns' | 'expected' | 'residual' | 'contribution'

export interface View {
  show: Show
  words: string
  cell: (row: number, column: number) => string
  exact: (row: number, column: number) => number
}

const MARKED = 0.05
const STRONG = 4

/** The ways to show the cells, named by what a percentage is a percentage of. */
export function viewsOf(table: Crosstab, titles: { rows: string; columns: string }): View[] {
  const grid = (
    show: Show,
    words: string,
    values: readonly (readonly number[])[],
    format: (value: number) => string,
  ): View => ({
    show,
    words,
    cell: (row, column) => format(values[row]![column]!),
    exact: (row, column) => values[row]![column]!,
  })
  return [
    grid('within_rows', `% within ${titles.rows}`, table.share_within_row, percent),
    grid('counts', 'counts', table.counts, count),
    grid('within_columns', `% within ${titles.columns}`, table.share_within_column, percent),
    grid('expected', 'expected', table.expected_counts, oneDecimal),
    grid('residual', 'residual', table.adjusted_residuals, oneDecimal),
    grid('contribution', 'part of χ²', table.contributions, oneDecimal),
  ]
}

/** Positions of the columns as shown: the event first. */
export function columnOrder(table: Crosstab): number[] {
  const event = table.event_by_group?.event ?? []
  const isEvent = (at: number) => event.includes(table.columns[at]!.value)
  const positions = table.columns.map((_, at) => at)
  return [...positions.filter(isEvent), ...positions.filter((at) => !isEvent(at))]
}

/** "more-2", "more-1", "less-1", "less-2", or nothing for a cell that does not stand out. */
export function markOf(table: Crosstab, row: number, column: number): string {
  if (table.adjusted_residuals_p_adjusted[row]![column]! >= MARKED) return ''
  const residual = table.adjusted_residuals[row]![column]!
  return `${residual > 0 ? 'more' : 'less'}-${Math.abs(residual) > STRONG ? 2 : 1}`
}
