/** What a cross-tabulation shows in its cells, and in which direction. */
import type { Schemas } from '@/api/types'
import { count, limits, oneDecimal, percent, points } from '@/design/numbers'

type Table = Schemas['CrosstabTable']
type Grid = readonly (readonly number[])[]
type Titles = { rows: string; columns: string }

export interface View {
  show: string
  words: string
  cell: (row: number, column: number) => string
  /** In full, on hover. */
  exact: (row: number, column: number) => string
  /** The margins that hold shares of all instead of counts. */
  shares: readonly ('rows' | 'columns')[]
}

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

/** The same with limits and the unweighted share on hover. */
function weighted(of: View, cells: Schemas['WeightedCellShares']['row_proportions']): View {
  return {
    ...of,
    exact: (row, column) => {
      const { estimate, se, ci_logit, unweighted } = cells[row]![column]!
      const ends = ci_logit ? `${limits(ci_logit, points)}%; ` : ''
      return `${estimate}, ${ends}standard error ${se}; unweighted ${percent(unweighted)}`
    },
  }
}

/** The first is shown at first; ways to show the cells are named by what a percentage is of. */
export function viewsOf(table: Table, titles: Titles): View[] {
  const { weighted: under, expected } = table
  const of = (title: string) => `% within ${title}`
  let rows = view('within_rows', of(titles.rows), table.share_within_row, percent, ['columns'])
  let columns = view('within_columns', of(titles.columns), table.share_within_column, percent, [
    'rows',
  ])
  if (under) {
    rows = weighted(rows, under.row_proportions)
    columns = weighted(columns, under.column_proportions)
  }
  const counts = view('counts', under ? 'counts (unweighted)' : 'counts', table.counts, count)
  const all = view('of_all', '% of all', table.cell_proportions, percent, ['rows', 'columns'])
  const departure = view(
    'residual',
    under ? 'z of the departure' : 'residual',
    table.adjusted_residuals,
    oneDecimal,
  )
  // Where cases were sampled, the shares to read are those among cases and among controls.
  const within = [rows, counts, columns]
  if (table.groups?.shares_have_meaning === false) within.reverse()
  return [
    ...within,
    all,
    departure,
    ...(expected
      ? [
          view('expected', 'expected', expected.expected_counts, oneDecimal),
          view('contribution', 'part of χ²', expected.contributions, oneDecimal),
        ]
      : []),
  ]
}

const CLASSES = {
  'much more': 'more-2',
  more: 'more-1',
  fewer: 'less-1',
  'much fewer': 'less-2',
  '': '',
}

/** "more-2", "more-1", "less-1", "less-2", or nothing for a cell that does not stand out. */
export function markOf({ marks }: Table, row: number, column: number): string {
  return CLASSES[marks[row]![column]!]
}
