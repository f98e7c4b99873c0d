/** What shows and changes each way of bringing data sets together. */
import type { Component } from 'vue'

import GroupsEditor from './groups/GroupsEditor.vue'
import MatchEditor from './match/MatchEditor.vue'
import OnePerCaseEditor from './one-per-case/OnePerCaseEditor.vue'
import type { Way } from './recipes'
import StackEditor from './stack/StackEditor.vue'

export const editors: Record<Way, Component> = {
  stack: StackEditor,
  match: MatchEditor,
  one_per_case: OnePerCaseEditor,
  groups: GroupsEditor,
}
