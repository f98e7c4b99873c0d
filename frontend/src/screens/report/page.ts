/** What the page shows now: the server's numbers, tables and labels, by block and by number. */
import { computed, inject, provide, type ComputedRef, type InjectionKey, type Ref } from 'vue'

import type { Schemas } from '@/api/types'

export type Part = Schemas['PagePart']
/** A live number as it stands: its text, why there is none, and what it was when last looked at. */
export interface Shown {
  text: string
  trouble: string
  was?: string
}

export interface PageNow {
  parts: ComputedRef<ReadonlyMap<string, Part[]>>
  /** "Table 1", by block. */
  labels: ComputedRef<ReadonlyMap<string, string>>
  numberOf: (block: string | undefined, question: string, key: string) => Shown | undefined
  moved: ComputedRef<Readonly<Record<string, Record<string, string>>>>
  /** Somebody has looked at what moved in a block. */
  look: (names: string[]) => void
  isReader: Ref<boolean>
  decimalComma: Ref<boolean>
  titleOf: (question: string) => string
}

const KEY: InjectionKey<PageNow> = Symbol('page')

export function usePageNow(): PageNow {
  return inject(KEY)!
}

/** For the parts of the page below. */
export function providePage(
  page: Ref<Schemas['PageOut'] | undefined>,
  rest: Pick<PageNow, 'look' | 'isReader' | 'decimalComma' | 'titleOf'>,
): PageNow {
  const parts = computed(() => {
    const found = new Map<string, Part[]>()
    for (const part of page.value?.parts ?? [])
      found.set(part.block, [...(found.get(part.block) ?? []), part])
    return found
  })
  const labels = computed(
    () =>
      new Map(
        [...parts.value].flatMap(([name, each]) => {
          const label = each.find((part) => part.label)?.label
          return label ? [[name, label] as const] : []
        }),
      ),
  )
  const moved = computed(() => page.value?.moved ?? {})
  const texts = computed(() => {
    const found = new Map<string, Shown>()
    for (const [block, each] of parts.value)
      for (const run of each.flatMap(({ lines }) => lines.flat()))
        if (run.number)
          found.set(`${run.number}`, {
            text: run.text,
            trouble: run.trouble,
            was: moved.value[block]?.[run.number],
          })
    return found
  })
  const now: PageNow = {
    parts,
    labels,
    moved,
    numberOf: (block, question, key) => {
      const name = `${question}/${key}`
      const found = texts.value.get(name)
      return found && { ...found, was: block ? moved.value[block]?.[name] : found.was }
    },
    ...rest,
  }
  provide(KEY, now)
  return now
}
