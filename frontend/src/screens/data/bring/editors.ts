/** What shows and changes each way of bringing data sets together. */
import type { Component } from 'vue'

import type { DataSet, Entry, RecipeLook, Study } from '@/api/types'
import GroupsEditor from './groups/GroupsEditor.vue'
import MatchEditor from './match/MatchEditor.vue'
import OnePerCaseEditor from './one-per-case/OnePerCaseEditor.vue'
import type { Way } from './recipes'
import StackEditor from './stack/StackEditor.vue'

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

export const editors: Record<Way, Component> = {
  stack: StackEditor,
  match: MatchEditor,
  one_per_case: OnePerCaseEditor,
  groups: GroupsEditor,
}
