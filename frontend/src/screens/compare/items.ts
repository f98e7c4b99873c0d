/** What is compared: questions with the data set they are about. */
import type { Entry, SavedQuestion, Schemas } from '@/api/types'
import { questionInWords } from '@/screens/ask/words'

export type Item = Schemas['ComparedQuestion']

/** So many answers stand side by side. */
export const MOST = 8

export function itemOf(saved: SavedQuestion, codebook: Entry[] | undefined): Item {
  return {
    dataset: saved.dataset,
    question: saved.question,
    title: questionInWords(saved, codebook).slice(0, 300),
  }
}

/** The ids in the address, in their order. */
export function idsIn(query: unknown): string[] {
  return String(query ?? '')
    .split(',')
    .filter(Boolean)
    .slice(0, MOST)
}
