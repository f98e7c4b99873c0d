/** A table on the clipboard: which of its first row and column are labels. */
export interface Pasted {
  corner: string
  rows: string[]
  columns: string[]
  cells: string[][]
}

const isNumber = (text: string) => /^\s*-?[\d\s,.]*\d\s*$/.test(text)

/** The table in a pasted text (cells between tabs), or nothing when it is a single cell. */
export function readPasted(text: string): Pasted | undefined {
  const lines = text
    .replace(/\r/g, '')
    .split('\n')
    .filter((line) => line.trim())
  const table = lines.map((line) => line.split('\t').map((cell) => cell.trim()))
  if (table.length < 2 && (table[0]?.length ?? 0) < 2) return undefined
  const width = Math.max(...table.map((row) => row.length))
  const full = table.map((row) => [...row, ...Array<string>(width - row.length).fill('')])
  const hasHead = full[0]!.some((cell, j) => j > 0 && cell && !isNumber(cell))
  const hasLabels = full.slice(hasHead ? 1 : 0).some((row) => row[0] && !isNumber(row[0]!))
  const body = full.slice(hasHead ? 1 : 0)
  const from = hasLabels ? 1 : 0
  if (width - from < 1 || !body.length) return undefined
  return {
    corner: hasHead && hasLabels ? full[0]![0]! : '',
    rows: body.map((row, i) => (hasLabels ? row[0]! : `row ${i + 1}`)),
    columns: Array.from({ length: width - from }, (_, j) =>
      hasHead ? full[0]![j + from]! || `column ${j + 1}` : `column ${j + 1}`,
    ),
    cells: body.map((row) => row.slice(from)),
  }
}
