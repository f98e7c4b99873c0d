/** Known totals pasted from elsewhere. */
import { numberIn } from '@/parts/typed'

interface Row {
  value: string
  label: string
}

/** Totals by value from pasted text: lines of a label and a number, or of numbers alone, which fill
 * the rows from one on; undefined for a single number, which is simply typed. */
export function pastedTotals(
  text: string,
  rows: Row[],
  from: number,
): Record<string, string> | undefined {
  const lines = text.split(/\r?\n/).filter((line) => line.trim())
  if (lines.length < 2 && !/\t/.test(text)) return undefined
  const found: Record<string, string> = {}
  let next = from
  for (const line of lines) {
    const cells = line.split(/\t|;/).map((cell) => cell.trim().replace(/(?<=\d)[\s%](?=\d|$)/g, ''))
    const number = cells.filter((cell) => numberIn(cell) !== null).at(-1)
    if (number === undefined) continue
    const named = rows.find(({ value, label }) =>
      cells.some((cell) => cell !== number && [value, label].includes(cell)),
    )
    const row = named ?? (cells.length === 1 ? rows[next++] : undefined)
    if (row) found[row.value] = number
  }
  return Object.keys(found).length ? found : undefined
}
