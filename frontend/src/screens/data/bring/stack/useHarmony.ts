/** Changes to the common variables of stacked data: what is taken, what is placed where. */
import { client, unwrap } from '@/api/client'
import type { CommonVariable, Entry, Stack } from '@/api/types'

type Taken = NonNullable<CommonVariable['taken'][number]>

/** A name for a common variable that is not taken. */
export function freeCommonName(recipe: Stack, wanted: string): string {
  const own = ['data_set', 'row_there', 'case', 'order', 'weight', 'stratum', 'cluster']
  const taken = [...own, ...recipe.variables.map(({ name }) => name)]
  let name = wanted
  for (let n = 2; taken.includes(name); n++) name = `${wanted}_${n}`
  return name
}

export function withCommon(recipe: Stack, at: number, common: CommonVariable | undefined): Stack {
  const variables = [...recipe.variables]
  if (common) variables[at] = common
  else variables.splice(at, 1)
  return { ...recipe, variables }
}

export function withTaken(
  common: CommonVariable,
  at: number,
  changes: Partial<Taken>,
): CommonVariable {
  const taken = common.taken.map((each, i) => (i === at && each ? { ...each, ...changes } : each))
  return { ...common, taken }
}

/** An answer of one data set at a common one, set aside (null) or not placed (undefined). */
export function placed(
  common: CommonVariable,
  at: number,
  answer: string,
  to: string | null | undefined,
): CommonVariable {
  const now = { ...common.taken[at]?.placed }
  if (to === undefined) delete now[answer]
  else now[answer] = to
  return withTaken(common, at, { placed: now })
}

/** With one more common answer, or one renamed. */
export function withAnswer(common: CommonVariable, label: string, value?: string): CommonVariable {
  const categories = [...common.categories]
  const at = categories.findIndex((each) => each.value === value)
  if (at >= 0) categories[at] = { ...categories[at]!, label }
  else if (!categories.some((each) => each.value === label))
    categories.push({ value: label, label })
  return { ...common, categories }
}

/** Without a common answer: what was placed there is not placed any more. */
export function withoutAnswer(common: CommonVariable, value: string): CommonVariable {
  const taken = common.taken.map(
    (each) =>
      each && {
        ...each,
        placed: Object.fromEntries(
          Object.entries(each.placed ?? {}).filter(([, to]) => to !== value),
        ),
      },
  )
  return {
    ...common,
    taken,
    categories: common.categories.filter((each) => each.value !== value),
    event: common.event.filter((each) => each !== value),
    reference: common.reference === value ? null : common.reference,
  }
}

/** Yes or no of common answers: those that are the event, and all others. */
export function madeYesNo(common: CommonVariable, event: readonly string[]): CommonVariable {
  const to = (place: string | null) =>
    place === null ? null : event.includes(place) ? 'yes' : 'no'
  const taken = common.taken.map(
    (each) =>
      each && {
        ...each,
        placed: Object.fromEntries(
          Object.entries(each.placed ?? {}).map(([answer, place]) => [answer, to(place)]),
        ),
      },
  )
  const categories = [
    { value: 'no', label: 'No' },
    { value: 'yes', label: 'Yes' },
  ]
  return { ...common, kind: 'nominal', categories, event: ['yes'], reference: 'no', taken }
}

/** Numbers cut into the common bands. */
export function madeBands(common: CommonVariable, cuts: readonly number[]): CommonVariable {
  const labels = cuts.map((cut, i) => (i ? `${cuts[i - 1]} to under ${cut}` : `under ${cut}`))
  const all = [...labels, `${cuts[cuts.length - 1]} and over`]
  const categories = all.map((label) => ({ value: label, label }))
  return { ...common, kind: 'ordinal', cuts: [...cuts], categories, event: [], reference: null }
}

export function useProposals(study: () => string, sources: () => string[]) {
  const params = () => ({ path: { study_id: study() } })

  /** A common variable of these, its answers placed as far as labels are the same. */
  async function propose(name: string, variables: (string | null)[]): Promise<CommonVariable> {
    const call = client.POST('/api/studies/{study_id}/bring/proposed', {
      params: params(),
      body: { sources: sources(), variables, name },
    })
    return (await unwrap(call)) as CommonVariable
  }

  /** The same with another variable of one data set. */
  async function take(common: CommonVariable, at: number, variable: string) {
    const call = client.POST('/api/studies/{study_id}/bring/taken', {
      params: params(),
      body: { sources: sources(), common, at, variable },
    })
    return (await unwrap(call)) as CommonVariable
  }

  return { propose, take }
}

/** Variables of all data sets that hold what was typed in name, label, an answer or the unit. */
export interface Hit {
  at: number
  entry: Entry
  by: string
}

export function searchAll(codebooks: Entry[][], typed: string): Hit[] {
  const wanted = typed.trim().toLowerCase()
  if (!wanted) return []
  const hits: Hit[] = []
  codebooks.forEach((entries, at) => {
    for (const entry of entries) {
      const { name, label, unit, categories } = entry.variable
      const has = (text: string) => text.toLowerCase().includes(wanted)
      const answer = categories.find((each) => has(each.label))
      if (has(name) || has(label)) hits.push({ at, entry, by: '' })
      else if (answer) hits.push({ at, entry, by: `answer “${answer.label}”` })
      else if (unit && has(unit)) hits.push({ at, entry, by: `in ${unit}` })
    }
  })
  return hits
}
