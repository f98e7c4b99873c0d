/** Which questions of a long line are shown: those whose words were typed, kept ones, unfolded ones. */
import { computed, ref } from 'vue'

import type { Entry, SavedQuestion } from '@/api/types'
import { questionInWords } from '../words'

export type Which = 'all' | 'kept' | 'dropped'

export interface Line {
  saved: SavedQuestion
  words: string
  /** How many follow-ups are folded away or can be. */
  followUps: number
  isFolded: boolean
}

/** A line is long from so many questions on: then it can be searched. */
const LONG = 8

export function useLines(
  questions: () => readonly SavedQuestion[],
  codebook: () => Entry[] | undefined,
  current: () => string | undefined,
) {
  const typed = ref('')
  const which = ref<Which>('all')
  const folded = ref(new Set<string>())

  const words = (saved: SavedQuestion) => questionInWords(saved, codebook())
  const dropped = computed(() => questions().filter(({ standing }) => standing === 'dropped'))
  const kept = computed(() => questions().filter(({ standing }) => standing === 'kept'))
  const isLong = computed(() => questions().length >= LONG)

  function holds(saved: SavedQuestion): boolean {
    const wanted = typed.value.trim().toLowerCase()
    const texts = [words(saved), saved.note, saved.headline ?? '']
    return !wanted || texts.some((text) => text.toLowerCase().includes(wanted))
  }

  function stands(saved: SavedQuestion): boolean {
    if (saved.id === current()) return true
    if (which.value === 'all') return saved.standing !== 'dropped'
    return saved.standing === which.value
  }

  const lines = computed<Line[]>(() =>
    questions()
      .filter((saved) => stands(saved) && holds(saved))
      .filter(
        ({ id, parent }) => typed.value || id === current() || !parent || !folded.value.has(parent),
      )
      .map((saved) => ({
        saved,
        words: words(saved),
        followUps: questions().filter(({ parent }) => parent === saved.id).length,
        isFolded: folded.value.has(saved.id),
      })),
  )

  function fold(id: string) {
    const now = new Set(folded.value)
    if (!now.delete(id)) now.add(id)
    folded.value = now
  }

  return { typed, which, lines, fold, dropped, kept, isLong }
}
