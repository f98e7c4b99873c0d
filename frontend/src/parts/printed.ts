/** Tables as papers print them, as the server sends them. */
import type { Schemas } from '@/api/types'

/** What a number shows; its value stays with the server. */
export type PrintedNumber = Pick<Schemas['Number'], 'key' | 'label' | 'text' | 'cell'>
export interface PrintedTable extends Omit<Schemas['Table'], 'rows'> {
  rows: (Omit<Schemas['Row'], 'cells'> & { cells: (string | PrintedNumber)[][] })[]
}
