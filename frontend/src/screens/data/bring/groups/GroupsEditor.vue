<script setup lang="ts">
/** Who belongs to each group, which of their rows counts, and how many are left per condition. */
import { computed } from 'vue'

import type { GroupsToCompare } from '@/api/types'
import { count } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { isCategorical } from '@/parts/kinds'
import type { EditorProps } from '../recipes'
import FindingList from '../FindingList.vue'
import { newGroup, type Group } from '../recipes'
import VariableField from '../VariableField.vue'
import ConditionTable from './ConditionTable.vue'
import GroupLine from './GroupLine.vue'

const props = defineProps<EditorProps<GroupsToCompare>>()
const emit = defineEmits<{ change: [recipe: GroupsToCompare] }>()

const source = computed(() => props.sources[0]!)
const entries = computed(() => props.codebooks[0] ?? [])
const found = computed(() => (props.problem ? undefined : (props.look?.groups ?? undefined)))
const groups = computed(() =>
  props.recipe.groups.length
    ? props.recipe.groups
    : [newGroup('affected'), { ...newGroup('unaffected'), holds: 'last', row: 'last' } as Group],
)
const conditions = computed(() => props.recipe.conditions)

function put(changes: Partial<GroupsToCompare>) {
  emit('change', { ...props.recipe, groups: groups.value, ...changes })
}

function setGroup(at: number, group: Group) {
  put({ groups: groups.value.map((each, i) => (i === at ? group : each)) })
}

const designs = [
  ['case_control', 'case–control: cases were chosen'],
  ['cohort', 'cohort'],
  ['cross_sectional', 'cross-sectional'],
  ['', 'not said'],
] as const
</script>

<template>
  <div class="groups">
    <GroupLine
      v-for="(group, i) in groups"
      :key="i"
      :group="group"
      :look="found?.groups[i]"
      :study="study"
      :dataset="source"
      :codebook="entries"
      :may-change="mayChange"
      :can-go="groups.length > 2"
      @change="setGroup(i, $event)"
      @remove="put({ groups: groups.filter((_, k) => k !== i) })"
    />
    <p class="line-of">
      <button
        v-if="mayChange"
        class="act"
        @click="put({ groups: [...groups, newGroup(`group ${groups.length + 1}`)] })"
      >
        + Another group
      </button>
      <label
        >Cases of two groups
        <select
          class="line"
          :value="recipe.in_two"
          :disabled="!mayChange"
          @change="
            put({ in_two: ($event.target as HTMLSelectElement).value as 'left_out' | 'first' })
          "
        >
          <option value="left_out">are left out</option>
          <option value="first">belong to the first</option>
        </select></label
      >
      <label
        >Taken at
        <VariableField
          :entries="entries.filter(({ variable }) => ['numeric', 'date'].includes(variable.kind))"
          :chosen="recipe.taken_at"
          label="Taken at"
          empty="age or time"
          clearable
          :disabled="!mayChange"
          @choose="put({ taken_at: $event })"
      /></label>
      <label
        >Study design
        <select
          class="line"
          :value="recipe.study_design"
          :disabled="!mayChange"
          @change="
            put({
              study_design: ($event.target as HTMLSelectElement)
                .value as GroupsToCompare['study_design'],
            })
          "
        >
          <option v-for="[value, words] in designs" :key="value" :value="value">{{ words }}</option>
        </select></label
      >
    </p>
    <ErrorNote :error="problem ?? undefined" />
    <template v-if="found">
      <p class="serif big">
        <b>{{ count(look!.rows) }}</b> of {{ count(found.cases) }} cases are in a group;
        {{ count(found.in_none) }} in none<template v-if="found.in_two"
          >, {{ count(found.in_two) }} in two</template
        >.
      </p>
      <FindingList :findings="found.findings" />
      <p v-if="found.in_two" class="quiet">
        In two: {{ found.in_two_cases.join(', ')
        }}{{ found.in_two > found.in_two_cases.length ? ' …' : '' }}
      </p>
      <section aria-label="How many are left">
        <h2 class="overline">How many are left, per condition</h2>
        <p v-if="mayChange" class="line-of">
          <VariableField
            :entries="entries"
            label="Compare by"
            empty="+ a variable to compare by"
            :refusal="
              ({ variable }) =>
                conditions.includes(variable.name)
                  ? 'chosen'
                  : isCategorical(variable) || variable.kind === 'numeric'
                    ? undefined
                    : 'not in categories'
            "
            @choose="$event && put({ conditions: [...conditions, $event] })"
          />
        </p>
        <div class="tables">
          <ConditionTable
            v-for="condition in found.conditions"
            :key="condition.variable"
            :condition="condition"
            :groups="found.groups"
            :may-change="mayChange"
            @remove="put({ conditions: conditions.filter((each) => each !== condition.variable) })"
          />
        </div>
      </section>
    </template>
  </div>
</template>

<style scoped>
.groups {
  display: grid;
  gap: 12px;
}
.line-of {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 26px;
  align-items: baseline;
}
.tables {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 50px;
}
.big {
  font-size: 1.2rem;
}
</style>
