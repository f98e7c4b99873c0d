/** Cells of the first table as they are printed. */
import type { components } from '@/api/schema'
import { count, fixed, percent } from '@/design/numbers'

type FirstTable = components['schemas']['FirstTable']
type Head = FirstTable['columns'][number]
type Line = FirstTable['lines'][number]
export type Cell = Line['cells'][number]

/** Decimals that all numbers of a line are written with: none for whole or large ones. */
function decimalsOf(cells: Cell[]): number {
  const numbers = cells.flatMap((cell) => [cell.middle ?? 0, ...cell.spread])
  if (numbers.every(Number.isInteger)) return 0
  const largest = Math.max(...numbers.map(Math.abs))
  return largest >= 1000 ? 0 : largest >= 10 ? 1 : 2
}

/** "95 (28.1%)"; numbers "45.8 (15.6)" or "45 (35 to 56)", with the same decimals in all cells. */
export function cellsInWords({ cells }: Pick<Line, 'cells'>): string[] {
  const decimals = decimalsOf(cells)
  const written = (value: number) => fixed(value, decimals)
  return cells.map((cell) => {
    if (cell.middle != null) {
      const spread = cell.spread.map(written).join(' to ')
      return spread ? `${written(cell.middle)} (${spread})` : written(cell.middle)
    }
    return cell.share == null ? count(cell.n) : `${count(cell.n)} (${percent(cell.share)})`
  })
}

/** "n = 95", with the weighted share of all where shares are weighted: "n = 95 (8.4%)". */
export function headInWords({ n, share }: Head, isWeighted: boolean): string {
  return isWeighted ? `n = ${count(n)} (${percent(share)})` : `n = ${count(n)}`
}

/** The table as rows of texts, for programs that take tabs. */
export function linesOf(table: FirstTable): string[][] {
  const head = ['', table.outcome, ...table.columns.slice(1).map(() => ''), '']
  const heads = table.columns.map((head) => `${head.label}, ${headInWords(head, table.weighted)}`)
  const columns = ['', ...heads, 'p']
  const lines = table.lines.map((line) => [
    line.level === null ? line.title : `${line.title}: ${line.level}`,
    ...cellsInWords(line),
    line.p == null ? '' : String(line.p),
  ])
  return [head, columns, ...lines]
}
