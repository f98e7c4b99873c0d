/** Type-ahead: those that start with what was typed first, then those that hold it. */
export function matching<T>(items: T[], typed: string, texts: (item: T) => string[]): T[] {
  const wanted = fold(typed)
  if (!wanted) return items
  const rank = (item: T) =>
    Math.min(
      ...texts(item).map((text) => {
        const folded = fold(text)
        if (folded.startsWith(wanted)) return 0
        if (folded.includes(` ${wanted}`)) return 1
        return folded.includes(wanted) ? 2 : 3
      }),
    )
  return items
    .map((item) => ({ item, rank: rank(item) }))
    .filter(({ rank }) => rank < 3)
    .sort((a, b) => a.rank - b.rank)
    .map(({ item }) => item)
}

function fold(text: string): string {
  return text
    .normalize('NFD')
    .replace(/\p{Diacritic}/gu, '')
    .toLowerCase()
    .trim()
}
