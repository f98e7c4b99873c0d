<script setup lang="ts">
/** Categories as this question uses them: left out, combined, reordered, missing as a category. */
import { computed, ref, watch } from 'vue'

import type { Entry, Schemas } from '@/api/types'
import { isCategorical, labelOf, titleOf } from '@/parts/kinds'
import { namesIn } from '../sentence/terms'
import { useAsking } from '../useAsking'

type Recast = Schemas['Recast']

const { answer, entryOf, question, setOptions } = useAsking()
const chosen = ref<Record<string, string[]>>({})
/** The variables of the question that are answered in categories. */
const entries = computed(() =>
  [question.value.outcome?.variable, ...namesIn(question.value)].flatMap((name) => {
    const entry = entryOf(name)
    return entry && isCategorical(entry.variable) ? [entry] : []
  }),
)
watch(entries, (now) => now.forEach(({ variable }) => (chosen.value[variable.name] ??= [])), {
  immediate: true,
})
const known = computed(() => answer.value.question.options.categories)
const NOTHING: Recast = { leave_out: [], combine: [], order: [], missing: false }
const of = (name: string): Recast => ({ ...NOTHING, ...known.value[name] })
const isChanged = (name: string) => name in known.value

function set(name: string, changes: Partial<Recast>) {
  chosen.value[name] = []
  setOptions({ categories: { ...known.value, [name]: { ...of(name), ...changes } } })
}

function asInCodebook(name: string) {
  const others = Object.entries(known.value).filter(([other]) => other !== name)
  setOptions({ categories: Object.fromEntries(others) })
}

function combine(name: string) {
  const together = chosen.value[name] ?? []
  const others = of(name).combine.filter(
    (group) => !group.some((value) => together.includes(value)),
  )
  set(name, { combine: [...others, together] })
}

function shown(entry: Entry): string[] {
  const { order } = of(entry.variable.name)
  const values = entry.variable.categories.map(({ value }) => value)
  return [...order, ...values.filter((value) => !order.includes(value))]
}

function move(entry: Entry, value: string, by: number) {
  const order = shown(entry)
  const at = order.indexOf(value)
  if (at + by < 0 || at + by >= order.length) return
  order.splice(at + by, 0, ...order.splice(at, 1))
  set(entry.variable.name, { order })
}
</script>

<template>
  <p class="quiet hint">Only for this question; the codebook stays as it is.</p>
  <div class="columns">
    <section v-for="entry in entries" :key="entry.variable.name">
      <h3 class="overline">{{ titleOf(entry.variable) }}</h3>
      <ul>
        <li v-for="value in shown(entry)" :key="value">
          <label
            ><input v-model="chosen[entry.variable.name]" type="checkbox" :value="value" />
            <span :class="{ out: of(entry.variable.name).leave_out.includes(value) }">{{
              labelOf(entry.variable, value)
            }}</span></label
          >
          <button
            class="act"
            :aria-label="`${labelOf(entry.variable, value)} up`"
            @click="move(entry, value, -1)"
          >
            ↑
          </button>
          <button
            class="act"
            :aria-label="`${labelOf(entry.variable, value)} down`"
            @click="move(entry, value, 1)"
          >
            ↓
          </button>
        </li>
      </ul>
      <p class="acts">
        <button
          class="act"
          :disabled="!chosen[entry.variable.name]?.length"
          @click="
            set(entry.variable.name, {
              leave_out: [...of(entry.variable.name).leave_out, ...chosen[entry.variable.name]!],
            })
          "
        >
          Leave out
        </button>
        <button
          class="act"
          :disabled="(chosen[entry.variable.name]?.length ?? 0) < 2"
          @click="combine(entry.variable.name)"
        >
          Combine
        </button>
        <label
          ><input
            type="checkbox"
            :checked="of(entry.variable.name).missing"
            @change="
              set(entry.variable.name, { missing: ($event.target as HTMLInputElement).checked })
            "
          />
          no answer as a category</label
        >
        <button
          v-if="isChanged(entry.variable.name)"
          class="act"
          @click="asInCodebook(entry.variable.name)"
        >
          As in the codebook
        </button>
      </p>
    </section>
  </div>
</template>

<style scoped>
.hint {
  margin-bottom: 8px;
}
.columns {
  display: flex;
  flex-wrap: wrap;
  gap: 16px 48px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(160px, 1fr) auto auto;
  gap: 10px;
}
.out {
  text-decoration: line-through;
  color: var(--quiet);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin-top: 6px;
}
</style>
