/** Ways to bring data sets together, and how each of them starts. */
import type {
  DataSet,
  Entry,
  GroupsToCompare,
  Match,
  OnePerCase,
  Recipe,
  RecipeLook,
  Stack,
  Study,
} from '@/api/types'

export type Way = Recipe['recipe']

/** What every editor is given; it emits `change` with another recipe. */
export interface EditorProps<R> {
  study: Study
  recipe: R
  sources: DataSet[]
  codebooks: Entry[][]
  look: RecipeLook | undefined
  problem: Error | null
  mayChange: boolean
}

export const ways: Record<Way, { words: string; says: string; sources: number }> = {
  stack: {
    words: 'Stack',
    says: 'rows under rows: two surveys or more that asked the same, whatever they called it',
    sources: 0,
  },
  match: {
    words: 'Match',
    says: 'columns beside columns: what another data set knows of the same person or village',
    sources: 2,
  },
  one_per_case: {
    words: 'One row per case',
    says: 'of several rows per case the first, the last, or the one that counts',
    sources: 1,
  },
  groups: {
    words: 'Groups to compare',
    says: 'who is affected and who is not, and which row of each case counts',
    sources: 1,
  },
}

/** What a made data set is, after its name. */
export const madeWords: Record<Way, string> = {
  stack: 'stacked from',
  match: 'matched from',
  one_per_case: 'one row per case of',
  groups: 'groups from',
}

export function newStack(sources: DataSet[]): Stack {
  return {
    recipe: 'stack',
    names: distinct(sources.map(({ name }) => name)),
    variables: [],
    counted: 'each',
    same_cases: false,
  }
}

export function newMatch(here: Entry[], there: Entry[]): Match {
  const names = new Set(there.map(({ variable }) => variable.name))
  const shared = here.find(({ variable }) => names.has(variable.name))?.variable.name
  const pair = { here: shared ?? '', there: shared ?? '' }
  return { recipe: 'match', keys: [pair], take: [], ignore_zeros: false }
}

export function newOnePerCase(): OnePerCase {
  return { recipe: 'one_per_case', row: 'last', where: null, made: [] }
}

export function newGroups(): GroupsToCompare {
  return {
    recipe: 'groups',
    name: 'group',
    label: 'Group',
    groups: [],
    in_two: 'left_out',
    study_design: '',
    taken_at: null,
    conditions: [],
  }
}

export type Group = GroupsToCompare['groups'][number]

export function newGroup(name: string): Group {
  return {
    name,
    where: { all: [] } as unknown as Group['where'],
    holds: 'ever',
    row: 'first',
    of_meeting: false,
  }
}

export function hasRule(where: unknown): boolean {
  const rule = where as { all?: unknown[]; any?: unknown[] } | null
  return !!(rule?.all?.length || rule?.any?.length)
}

/** Whether there is enough of a recipe to look at what it would make. */
export function isComplete(recipe: Recipe): boolean {
  if (recipe.recipe === 'match')
    return recipe.take.length > 0 && recipe.keys.every(({ here, there }) => here && there)
  if (recipe.recipe === 'groups')
    return recipe.groups.length > 1 && recipe.groups.every(({ where }) => hasRule(where))
  return true
}

function distinct(names: string[]): string[] {
  return names.map((name, i) => (names.indexOf(name) < i ? `${name} (${i + 1})` : name))
}

/** The data sets on the way to this one, sources first, and those made from it: a line of boxes. */
export function roadOf(all: DataSet[], current?: string): DataSet[][] {
  const depth = new Map<string, number>()
  const byId = new Map(all.map((each) => [each.id, each]))
  const levelOf = (each: DataSet): number => {
    const known = depth.get(each.id)
    if (known !== undefined) return known
    depth.set(each.id, 0)
    const sources = (each.made?.sources ?? []).map((id) => byId.get(id)).filter(Boolean)
    const level = each.made ? 1 + Math.max(0, ...sources.map((source) => levelOf(source!))) : 0
    depth.set(each.id, level)
    return level
  }
  const linked = current ? connected(all, current) : new Set(all.map(({ id }) => id))
  const levels: DataSet[][] = []
  for (const each of all) {
    if (!linked.has(each.id)) continue
    const level = levelOf(each)
    ;(levels[level] ??= []).push(each)
  }
  return levels.filter(Boolean)
}

function connected(all: DataSet[], start: string): Set<string> {
  const found = new Set([start])
  for (let before = -1; before !== found.size;) {
    before = found.size
    for (const { id, made } of all) {
      const ends = [id, ...(made?.sources ?? [])]
      if (made && ends.some((end) => found.has(end))) ends.forEach((end) => found.add(end))
    }
  }
  return found
}
