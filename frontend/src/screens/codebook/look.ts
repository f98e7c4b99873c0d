/** Which variables a person should look at before asking of them. */
import type { Entry, Look } from '@/api/types'

export function reasonsToLook(entry: Entry, rows: number): Look[] {
  const { summary, to_look_at } = entry
  const reasons = [...to_look_at]
  const say = (text: string) => reasons.push({ text, values: [], asks: null })
  if (summary.n_missing > 0.2 * rows)
    say(`${Math.round((100 * summary.n_missing) / rows)}% have no answer.`)
  if (summary.kind === 'categories' && summary.counts.length) {
    const used = summary.counts.filter((n) => n > 0)
    if (used.length === 1) say('Everyone who answered gave the same answer.')
    const answered = summary.counts.reduce((sum, n) => sum + n, 0)
    const rare = summary.counts.findIndex((n) => n > 0 && n < Math.min(10, 0.01 * answered))
    if (rare >= 0)
      say(
        `“${entry.variable.categories[rare]?.label}” was answered only ${summary.counts[rare]} times.`,
      )
  }
  return reasons
}

export function needsALook(entry: Entry, rows: number): boolean {
  return reasonsToLook(entry, rows).length > 0
}
