/** What a cross-tabulation shows in its cells, and in which direction; weighted or not. */
import type { Crosstab, Survey } from '@/api/types'
import { count, oneDecimal, percent } from '@/design/numbers'
import { limitsOf } from './shareWords'

type Grid = readonly (readonly number[])[]
type Titles = { rows: string; columns: string }
type Weighted = NonNullable<Survey['table']>
type Cell = Weighted['row_proportions'][number][number]

export interface View {
  show: string
  words: string
  cell: (row: number, column: number) => string
  /** In full, on hover. */
  exact: (row: number, column: number) => string
  /** The margins that hold shares of all instead of counts. */
  shares: readonly ('rows' | 'columns')[]
}

/** A table of groups (rows) by answers (columns). */
export interface CellTable {
  rows: readonly string[]
  columns: readonly string[]
  /** Positions of the columns as shown: the event first. */
  order: readonly number[]
  counts: Grid
  /** Shares of all. */
  margin: { rows: readonly number[]; columns: readonly number[] }
  /** The first is shown at first. */
  views: readonly View[]
  /** "more-2", "more-1", "less-1", "less-2", or nothing for a cell that does not stand out. */
  mark: (row: number, column: number) => string
}

const MARKED = 0.05
const STRONG = 4

function view(
  show: string,
  words: string,
  values: Grid,
  format: (value: number) => string,
  shares: View['shares'] = [],
): View {
  return {
    show,
    words,
    cell: (row, column) => format(values[row]![column]!),
    exact: (row, column) => String(values[row]![column]!),
    shares,
  }
}

function eventFirst(columns: readonly unknown[], isEvent: (at: number) => boolean): number[] {
  const positions = columns.map((_, at) => at)
  return [...positions.filter(isEvent), ...positions.filter((at) => !isEvent(at))]
}

/** How a cell stands out once all cells are allowed for. */
function marker(departures: Grid, p: Grid): CellTable['mark'] {
  return (row, column) => {
    if (p[row]![column]! >= MARKED) return ''
    const departure = departures[row]![column]!
    return `${departure > 0 ? 'more' : 'less'}-${Math.abs(departure) > STRONG ? 2 : 1}`
  }
}

/** Each row counted once; the ways to show the cells named by what a percentage is of. */
export function plainCells(table: Crosstab, titles: Titles): CellTable {
  const within = [
    view('within_rows', `% within ${titles.rows}`, table.share_within_row, percent, ['columns']),
    view('counts', 'counts', table.counts, count),
    view('within_columns', `% within ${titles.columns}`, table.share_within_column, percent, [
      'rows',
    ]),
  ]
  // Where cases were sampled, the shares to read are those among cases and among controls.
  if (table.event_by_group?.shares_have_meaning === false) within.reverse()
  const event = table.event_by_group?.event ?? []
  return {
    rows: table.rows.map(({ label }) => label),
    columns: table.columns.map(({ label }) => label),
    order: eventFirst(table.columns, (at) => event.includes(table.columns[at]!.value)),
    counts: table.counts,
    margin: {
      rows: table.row_totals.map((total) => total / table.n),
      columns: table.column_totals.map((total) => total / table.n),
    },
    views: [
      ...within,
      view('expected', 'expected', table.expected_counts, oneDecimal),
      view('residual', 'residual', table.adjusted_residuals, oneDecimal),
      view('contribution', 'part of χ²', table.contributions, oneDecimal),
    ],
    mark: marker(table.adjusted_residuals, table.adjusted_residuals_p_adjusted),
  }
}

/** Weighted percentages; counts are those of the sample. */
export function weightedCells(table: Weighted, titles: Titles): CellTable {
  const within = (
    show: string,
    title: string,
    cells: readonly (readonly Cell[])[],
    shares: View['shares'],
  ): View => ({
    show,
    words: `% within ${title}`,
    cell: (row, column) => percent(cells[row]![column]!.estimate),
    exact: (row, column) => {
      const { estimate, se, ci, unweighted } = cells[row]![column]!
      const limits = ci ? `${limitsOf(ci, 100, 1)}%; ` : ''
      return `${estimate}, ${limits}standard error ${se}; unweighted ${percent(unweighted)}`
    },
    shares,
  })
  return {
    rows: table.rows,
    columns: table.columns,
    order: eventFirst(table.columns, (at) => table.event.includes(at)),
    counts: table.counts,
    margin: { rows: table.row_margin, columns: table.column_margin },
    views: [
      within('within_rows', titles.rows, table.row_proportions, ['columns']),
      within('within_columns', titles.columns, table.column_proportions, ['rows']),
      view('of_all', '% of all', table.cell_proportions, percent, ['rows', 'columns']),
      view('z', 'z', table.z, oneDecimal),
    ],
    mark: marker(table.z, table.p_adjusted),
  }
}
