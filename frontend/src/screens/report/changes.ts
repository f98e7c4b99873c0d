/** What was written since the server last said what stands there. */
import type { Schemas } from '@/api/types'
import type { Block, Named } from './document'

export type Change = Schemas['ChangeIn']
/** A block as the server has it. */
export interface Known {
  version: number
  block: Block
}

/** Equal as JSON, whatever the order of their fields. */
export function isSame(one: unknown, other: unknown): boolean {
  if (one === other) return true
  if (typeof one !== 'object' || typeof other !== 'object' || !one || !other) return false
  const [a, b] = [one as Record<string, unknown>, other as Record<string, unknown>]
  const keys = Object.keys(a)
  return keys.length === Object.keys(b).length && keys.every((key) => isSame(a[key], b[key]))
}

/** The changes that make the server's blocks, in their order, those of the page. */
export function changesBetween(
  known: ReadonlyMap<string, Known>,
  order: readonly string[],
  now: readonly Named[],
): Change[] {
  const there = new Set(now.map(({ name }) => name))
  const removed = order
    .filter((name) => !there.has(name))
    .map((name) => ({ name, version: known.get(name)!.version, block: null, place: null }))
  // Those the server has, in its order: whoever stands elsewhere now has been moved.
  const expected = order.filter((name) => there.has(name))
  let at = 0
  const written = now.flatMap(({ name, block }, i): Change[] => {
    const before = known.get(name)
    const stays = before !== undefined && expected[at] === name
    if (stays) at += 1
    else if (before !== undefined) expected.splice(expected.indexOf(name, at), 1)
    const after = i ? now[i - 1]!.name : null
    const place = stays ? null : { after }
    if (before === undefined) return [{ name, version: null, block, place }]
    if (stays && isSame(before.block, block)) return []
    return [{ name, version: before.version, block, place }]
  })
  return [...removed, ...written]
}

/** The page once others' changes are in: blocks written here and not sent yet stay as they are. */
export function merged(
  theirs: readonly Named[],
  mine: readonly Named[],
  unsent: ReadonlySet<string>,
): Named[] {
  const own = new Map(mine.map((each) => [each.name, each]))
  const names = new Set(theirs.map(({ name }) => name))
  const found = theirs
    .filter(({ name }) => !unsent.has(name) || own.has(name))
    .map((each) => (unsent.has(each.name) ? own.get(each.name)! : each))
  mine.forEach((each, i) => {
    if (!unsent.has(each.name) || names.has(each.name)) return
    const before = mine
      .slice(0, i)
      .reverse()
      .find(({ name }) => found.some((other) => other.name === name))
    const at = before ? found.findIndex(({ name }) => name === before.name) + 1 : 0
    found.splice(at, 0, each)
  })
  return found
}
