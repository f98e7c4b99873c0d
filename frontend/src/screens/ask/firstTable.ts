/** Cells of the first table as they are printed. */
import type { components } from '@/api/schema'
import { count, percent, short } from '@/design/numbers'

type FirstTable = components['schemas']['FirstTable']
type Head = FirstTable['columns'][number]
export type Cell = FirstTable['lines'][number]['cells'][number]

/** "95 (28.1%)", "45.8 (15.6)", "45 (35 to 56)". */
export function cellInWords(cell: Cell): string {
  if (cell.middle != null) {
    const spread = cell.spread.map(short).join(' to ')
    return spread ? `${short(cell.middle)} (${spread})` : short(cell.middle)
  }
  return cell.share == null ? count(cell.n) : `${count(cell.n)} (${percent(cell.share)})`
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
    ...line.cells.map(cellInWords),
    line.p == null ? '' : String(line.p),
  ])
  return [head, columns, ...lines]
}
