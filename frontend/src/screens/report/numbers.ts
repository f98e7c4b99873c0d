/** The numbers of an answer that a sentence can hold, each once. */
import type { PrintedNumber, PrintedTable } from './page'

type Parts = { tables: PrintedTable[]; flow: PrintedTable }

export function numbersOf(parts: Parts | undefined): PrintedNumber[] {
  const found = new Map<string, PrintedNumber>()
  for (const table of parts ? [...parts.tables, parts.flow] : [])
    for (const part of table.rows.flatMap(({ cells }) => cells.flat()))
      if (typeof part !== 'string' && !found.has(part.key)) found.set(part.key, part)
  return [...found.values()]
}
