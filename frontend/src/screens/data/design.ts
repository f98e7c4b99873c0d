/** A survey design as it starts, with the usual choices made. */
import type { Entry, Question } from '@/api/types'
import { titleOf } from '@/parts/kinds'

export type Design = Extract<Question['counted_by'], { kind: 'design' }>

export function design(weights: string | null, parts: Partial<Design> = {}): Design {
  return {
    kind: 'design',
    weights,
    strata: null,
    clusters: null,
    together: [],
    single: 'nothing',
    errors: 'linearised',
    draws: 500,
    seed: 1,
    ...parts,
  }
}

/** The strata of a design with one more taken together with another; undone by `apart`. */
export function takenTogether(now: Design, one: string, other: string): string[][] {
  const of = (value: string) => now.together.find((group) => group.includes(value)) ?? [value]
  const joined = [...of(other), ...of(one)]
  return [...now.together.filter((group) => !group.some((v) => joined.includes(v))), joined]
}

/** Variables to choose from. */
export function itemsOf(entries: Entry[]) {
  return entries.map(({ variable }) => ({ title: titleOf(variable), value: variable.name }))
}

/** Those answered in categories. */
export function categoricalItems(entries: Entry[]) {
  return itemsOf(entries.filter(({ variable }) => ['nominal', 'ordinal'].includes(variable.kind)))
}

/** Those that hold numbers. */
export function numericItems(entries: Entry[]) {
  return itemsOf(entries.filter(({ variable }) => variable.kind === 'numeric'))
}
