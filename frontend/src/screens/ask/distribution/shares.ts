/** Shares typed beside categories: what is left blank shares what is left of 100. */
import { short } from '@/design/numbers'

export interface Filled {
  shares: Record<string, number>
  /** What each blank would get, for the fields. */
  rest: string
  words: string
}

function shareIn(text: string | undefined): number | undefined {
  const plain = (text ?? '').trim().replace(',', '.').replace(/%$/, '')
  return plain === '' ? undefined : Number(plain)
}

/** The shares as sent: numbers as typed, blanks filled with equal parts of what 100 leaves. */
export function filledIn(values: string[], typed: Record<string, string>): Filled {
  const numbers = values.map((value) => shareIn(typed[value]))
  const known = numbers.filter((n): n is number => n !== undefined)
  const wrong = values.filter((_, i) => Number.isNaN(numbers[i]))
  const total = known.reduce((sum, n) => sum + (Number.isNaN(n) ? 0 : n), 0)
  const blanks = values.length - known.length
  const each = blanks && total <= 100 ? (100 - total) / blanks : undefined
  const shares: Record<string, number> = {}
  values.forEach((value, i) => {
    const share = numbers[i] ?? each
    // What is no number is sent as it is, so that the answer says what is wrong with it.
    if (share !== undefined)
      shares[value] = Number.isNaN(share) ? (typed[value] as unknown as number) : share
  })
  return { shares, rest: each === undefined ? '' : short(each), words: words() }

  function words(): string {
    if (wrong.length) return 'A share is a number, such as 25 or 12.5.'
    if (!known.length) return 'Percentages, ratios or counts. What you leave blank shares the rest.'
    if (blanks && each !== undefined)
      return `So far ${short(total)}; each blank gets ${short(each)} of what is left of 100.`
    if (blanks) return `So far ${short(total)}: more than 100, so fill in every share.`
    return Math.abs(total - 100) < 1e-9
      ? 'They make up 100.'
      : `They sum to ${short(total)} and will be scaled to make up the whole.`
  }
}
