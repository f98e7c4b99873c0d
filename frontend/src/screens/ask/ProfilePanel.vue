<script setup lang="ts">
/** Try a profile: set values, see the predicted probability; several side by side, and a curve. */
import { computed } from 'vue'

import type { FigureSpec, OddsResults, Question } from '@/api/types'
import { percent } from '@/design/numbers'
import DraftInput from '@/parts/DraftInput.vue'
import FigureView from '@/parts/FigureView.vue'
import { withOptions } from './options'
import { numberIn } from '@/parts/typed'
import { limitsOf } from './shareWords'

type Profile = Record<string, string | number>

const MOST = 6
const props = defineProps<{
  /** What can be set, what came of it, and the curve; of a weighted sample too. */
  model: Pick<OddsResults['whole'], 'slots' | 'predictions' | 'curve'>
  event: string
  figures: Record<string, FigureSpec>
  question: Question
}>()
const emit = defineEmits<{ change: [question: Question] }>()

const profiles = computed(
  () => ((props.question.options.profiles as Profile[] | undefined) ?? []) as Profile[],
)
const numeric = computed(() => props.model.slots.filter(({ categories }) => !categories.length))
const categorical = computed(() => props.model.slots.filter(({ categories }) => categories.length))
const predictionOf = (i: number) => props.model.predictions[i]

function setAll(next: Profile[]) {
  emit('change', withOptions(props.question, { profiles: next.length ? next : undefined }))
}

function add() {
  const usual = Object.fromEntries(
    props.model.slots.map(({ variable, usual }) => [variable, usual]),
  )
  setAll([...profiles.value, profiles.value.at(-1) ?? usual])
}

function set(i: number, variable: string, value: string | number) {
  setAll(profiles.value.map((each, at) => (at === i ? { ...each, [variable]: value } : each)))
}

function setNumber(i: number, variable: string, text: string, putBack: () => void) {
  const value = numberIn(text)
  if (value === null) putBack()
  else set(i, variable, value)
}

const range = (variable: string) => props.model.slots.find((slot) => slot.variable === variable)!

function isBeyond(i: number, variable: string): boolean {
  const { low, high } = range(variable)
  const value = Number(profiles.value[i]![variable])
  return low !== null && high !== null && (value < low || value > high)
}
</script>

<template>
  <div v-if="profiles.length" class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col"></th>
          <th v-for="(_, i) in profiles" :key="i" scope="col">
            {{ String.fromCharCode(65 + i) }}
            <button
              class="drop"
              :aria-label="`Remove profile ${String.fromCharCode(65 + i)}`"
              @click="setAll(profiles.filter((__, at) => at !== i))"
            >
              ×
            </button>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="slot in model.slots" :key="slot.variable">
          <th scope="row">{{ slot.title }}</th>
          <td v-for="(profile, i) in profiles" :key="i">
            <select
              v-if="slot.categories.length"
              :value="profile[slot.variable] ?? slot.usual"
              :aria-label="`${slot.title}, profile ${String.fromCharCode(65 + i)}`"
              @change="set(i, slot.variable, ($event.target as HTMLSelectElement).value)"
            >
              <option v-for="[value, label] in slot.categories" :key="value" :value="value">
                {{ label }}
              </option>
            </select>
            <template v-else>
              <DraftInput
                inputmode="decimal"
                :value="profile[slot.variable] ?? slot.usual"
                :aria-label="`${slot.title}, profile ${String.fromCharCode(65 + i)}`"
                @take="(text, putBack) => setNumber(i, slot.variable, text, putBack)"
              />
              <small v-if="isBeyond(i, slot.variable)" class="beyond"
                >beyond {{ slot.low }} to {{ slot.high }}</small
              >
            </template>
          </td>
        </tr>
        <tr>
          <th scope="row">probability of {{ event }}</th>
          <td v-for="(_, i) in profiles" :key="i">
            <template v-if="predictionOf(i)">
              <b>{{ percent(predictionOf(i)!.probability) }}</b><br /><small class="quiet">{{
                limitsOf(predictionOf(i)!.ci, 100, 1)
              }}</small>
            </template>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-if="profiles.length < MOST">
    <button class="act" @click="add">
      {{ profiles.length ? 'Another profile beside it' : 'Try a profile' }}
    </button>
  </p>
  <template v-if="figures.curve && model.curve">
    <p class="axes">
      <label
        >Probability across
        <select
          :value="model.curve.across"
          @change="
            emit(
              'change',
              withOptions(question, { curve: ($event.target as HTMLSelectElement).value }),
            )
          "
        >
          <option v-for="slot in numeric" :key="slot.variable" :value="slot.variable">
            {{ slot.title }}
          </option>
        </select></label
      >
      <label v-if="categorical.length"
        >a line for each
        <select
          :value="model.curve.by ?? ''"
          @change="
            emit(
              'change',
              withOptions(question, { curve_by: ($event.target as HTMLSelectElement).value }),
            )
          "
        >
          <option value="">(one line)</option>
          <option v-for="slot in categorical" :key="slot.variable" :value="slot.variable">
            {{ slot.title }}
          </option>
        </select></label
      >
    </p>
    <FigureView
      :spec="figures.curve"
      :label="`Predicted probability across ${model.curve.across_title}, with bands`"
      name="Predicted probability"
    />
    <p class="quiet">Everything else is at its reference, numbers at their median.</p>
  </template>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
select,
input {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 0;
  border-bottom: 1px solid var(--hairline);
  max-width: 150px;
}
input {
  width: 80px;
  text-align: right;
}
.axes {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 20px;
  margin: 10px 0;
}
.beyond {
  display: block;
  color: var(--more-ink);
}
.drop {
  color: var(--quiet);
  padding: 0 3px;
}
</style>
