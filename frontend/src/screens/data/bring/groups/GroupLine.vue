<script setup lang="ts">
/** One group: its name, who belongs to it, and which of their rows counts. */
import type { DataSet, Entry, Schemas, Study } from '@/api/types'
import { count } from '@/design/numbers'
import DraftInput from '@/parts/DraftInput.vue'
import RuleField from '../RuleField.vue'
import type { Group } from '../recipes'

const props = defineProps<{
  group: Group
  look: Schemas['GroupLook'] | undefined
  study: Study
  dataset: DataSet
  codebook: Entry[]
  mayChange: boolean
  canGo: boolean
}>()
const emit = defineEmits<{ change: [group: Group]; remove: [] }>()

const holds: Record<Group['holds'], string> = {
  ever: 'ever had',
  never: 'never had',
  first: 'had at first',
  last: 'had at last',
}
const rows = [
  { row: 'first', of_meeting: false, words: 'their first row' },
  { row: 'last', of_meeting: false, words: 'their last row' },
  { row: 'first', of_meeting: true, words: 'the first row with it' },
  { row: 'last', of_meeting: true, words: 'the last row with it' },
] as const

function put(changes: Partial<Group>) {
  const group = { ...props.group, ...changes }
  emit('change', group.holds === 'never' ? { ...group, of_meeting: false } : group)
}

function setRow(at: number) {
  const { row, of_meeting } = rows[at]!
  put({ row, of_meeting })
}
</script>

<template>
  <p class="group serif">
    <DraftInput
      :value="group.name"
      class="called"
      maxlength="100"
      aria-label="Name of the group"
      :disabled="!mayChange"
      @take="(text, putBack) => (text.trim() ? put({ name: text.trim() }) : putBack())"
    />
    <span>:</span> those who
    <select
      class="line"
      aria-label="When"
      :value="group.holds"
      :disabled="!mayChange"
      @change="put({ holds: ($event.target as HTMLSelectElement).value as Group['holds'] })"
    >
      <option v-for="(words, each) in holds" :key="each" :value="each">{{ words }}</option>
    </select>
    <RuleField
      :rule="group.where"
      :label="`Who is in ${group.name}`"
      empty="a condition"
      :study="study"
      :dataset="dataset"
      :codebook="codebook"
      :disabled="!mayChange"
      @change="$event && put({ where: $event })"
    />, with
    <select
      class="line"
      aria-label="Which row counts"
      :value="
        rows.findIndex((each) => each.row === group.row && each.of_meeting === group.of_meeting)
      "
      :disabled="!mayChange"
      @change="setRow(Number(($event.target as HTMLSelectElement).value))"
    >
      <option
        v-for="(each, i) in rows"
        :key="each.words"
        :value="i"
        :disabled="each.of_meeting && group.holds === 'never'"
      >
        {{ each.words }}
      </option>
    </select>
    <span v-if="look" class="n"
      ><b>{{ count(look.n) }}</b
      ><span v-if="look.taken_at" class="quiet"> at {{ look.taken_at }}</span></span
    >
    <button v-if="canGo && mayChange" class="act" @click="emit('remove')">Remove</button>
  </p>
</template>

<style scoped>
.group {
  font-size: 1.25rem;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 7px;
  align-items: baseline;
  border-left: 2px solid var(--hairline);
  padding: 3px 0 3px 12px;
}
.called {
  width: 150px;
  font: inherit;
  font-weight: 600;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 2px solid var(--pine);
  padding: 0 2px;
}
select {
  background: none;
  border-bottom: 2px solid var(--pine);
}
.n {
  font-family: var(--sans);
  font-size: 0.95rem;
  margin-left: 12px;
}
.act {
  font-family: var(--sans);
  font-size: 0.95rem;
}
</style>
