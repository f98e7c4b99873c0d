<script setup lang="ts">
/** Which row of a case counts, and what is made of all its rows. */
import { computed, ref } from 'vue'

import type { OnePerCase, Subset } from '@/api/types'
import { count } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import type { EditorProps } from '../recipes'
import FindingList from '../FindingList.vue'
import RuleField from '../RuleField.vue'
import VariableField from '../VariableField.vue'

type Made = OnePerCase['made'][number]
type How = Extract<Made, { made: 'over_rows' }>['how']

const props = defineProps<EditorProps<OnePerCase>>()
const emit = defineEmits<{ change: [recipe: OnePerCase] }>()

const source = computed(() => props.sources[0]!)
const entries = computed(() => props.codebooks[0] ?? [])
const rule = ref<Subset | null>(null)
const how = ref<How>('most')
const hows: Record<How, string> = {
  least: 'the least',
  most: 'the most',
  mean: 'the mean',
  count: 'how many rows have',
  change: 'the change from first to last of',
}

function put(changes: Partial<OnePerCase>) {
  emit('change', { ...props.recipe, ...changes })
}

function free(wanted: string): string {
  const taken = [
    ...entries.value.map(({ variable }) => variable.name),
    ...props.recipe.made.map(({ name }) => name),
  ]
  let name = wanted
  for (let n = 2; taken.includes(name); n++) name = `${wanted}_${n}`
  return name
}

function addEver(where: Subset | null) {
  if (!where) return
  const first = Object.values(where).flat()[0] as { variable?: string }
  const name = free(`ever_${first?.variable ?? 'so'}`)
  put({ made: [...props.recipe.made, { made: 'ever', name, label: '', where }] })
  rule.value = null
}

function addOver(variable: string | null) {
  if (!variable) return
  const name = free(`${variable}_${how.value}`)
  const made: Made = { made: 'over_rows', name, label: '', variable, how: how.value }
  put({ made: [...props.recipe.made, made] })
}

function wordsOf(made: Made): string {
  return made.made === 'ever' ? 'ever, yes or no' : `${hows[made.how]} ${made.variable}`
}
</script>

<template>
  <div class="one">
    <p class="serif sentence">
      Of each {{ source.cases.case ?? 'case' }} the
      <select
        class="line"
        aria-label="Which row"
        :value="recipe.row"
        :disabled="!mayChange"
        @change="put({ row: ($event.target as HTMLSelectElement).value as 'first' | 'last' })"
      >
        <option value="first">first</option>
        <option value="last">last</option>
      </select>
      row
      <template v-if="source.cases.order"> by {{ source.cases.order }}</template> with
      <RuleField
        :rule="recipe.where"
        label="Condition on the row"
        empty="anything"
        :study="study"
        :dataset="source"
        :codebook="entries"
        :disabled="!mayChange"
        @change="put({ where: $event })"
      />
    </p>
    <section aria-label="Made of all rows">
      <h2 class="overline">And of all its rows</h2>
      <ul class="made">
        <li v-for="made in recipe.made" :key="made.name">
          <b>{{ made.name }}</b> <span class="quiet">{{ wordsOf(made) }}</span>
          <button
            v-if="mayChange"
            class="act"
            @click="put({ made: recipe.made.filter((each) => each !== made) })"
          >
            Remove
          </button>
        </li>
      </ul>
      <p v-if="mayChange" class="add">
        <span
          >whether it ever had
          <RuleField
            :rule="rule"
            label="Ever"
            empty="a condition"
            :study="study"
            :dataset="source"
            :codebook="entries"
            @change="rule = $event"
          />
          <button v-if="rule" class="act" @click="addEver(rule)">Add</button></span
        >
        <span
          ><select v-model="how" class="line" aria-label="What of the numbers">
            <option v-for="(words, each) in hows" :key="each" :value="each">{{ words }}</option>
          </select>
          <VariableField
            :entries="entries.filter(({ variable }) => variable.kind === 'numeric')"
            label="A number"
            empty="a number"
            @choose="addOver"
        /></span>
      </p>
    </section>
    <ErrorNote :error="problem ?? undefined" />
    <section v-if="look && !problem" aria-label="What comes of it">
      <p class="serif big">
        <b>{{ count(look.rows) }}</b> rows, one for each {{ source.cases.case ?? 'case' }}.
      </p>
      <FindingList :findings="look.findings" />
    </section>
  </div>
</template>

<style scoped>
.one {
  display: grid;
  gap: 14px;
}
.sentence {
  font-size: 1.35rem;
}
.made {
  list-style: none;
  margin: 0;
  padding: 0;
}
.made li {
  display: flex;
  gap: 12px;
  align-items: baseline;
}
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 30px;
}
.big {
  font-size: 1.2rem;
  margin-bottom: 6px;
}
</style>
