<script setup lang="ts">
/** Try a profile: set values, see the predicted probability; several side by side, and a curve. */
import { computed } from 'vue'

import type { Figures, Schemas } from '@/api/types'
import { inField, limits, percent, points } from '@/design/numbers'
import DraftInput from '@/parts/DraftInput.vue'
import FigureView from '@/parts/FigureView.vue'
import { numberIn } from '@/parts/typed'
import { useOptions, useResults } from '../useAsking'

type Profile = Record<string, string | number>

const MOST = 6
const props = defineProps<{ found: Schemas['ProfilePanel']; figures: Figures }>()

const results = useResults<Schemas['OddsResults']>()
const { options, set: setOptions } = useOptions('odds')
const profiles = computed(() => options.value.profiles as Profile[])
const numeric = computed(() => props.found.slots.filter(({ categories }) => !categories.length))
const categorical = computed(() => props.found.slots.filter(({ categories }) => categories.length))
const predictionOf = (i: number) => props.found.predictions[i]

function setAll(next: Profile[]) {
  setOptions({ profiles: next })
}

function add() {
  const usual = Object.fromEntries(
    props.found.slots.map(({ variable, usual }) => [variable, usual]),
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

const range = (variable: string) => props.found.slots.find((slot) => slot.variable === variable)!

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
        <tr v-for="slot in found.slots" :key="slot.variable">
          <th scope="row">{{ slot.title }}</th>
          <td v-for="(profile, i) in profiles" :key="i">
            <select
              v-if="slot.categories.length"
              class="line"
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
                class="line"
                inputmode="decimal"
                :value="profile[slot.variable] ?? slot.usual"
                :aria-label="`${slot.title}, profile ${String.fromCharCode(65 + i)}`"
                @take="(text, putBack) => setNumber(i, slot.variable, text, putBack)"
              />
              <small v-if="isBeyond(i, slot.variable)" class="beyond"
                >beyond {{ inField(slot.low) }} to {{ inField(slot.high) }}</small
              >
            </template>
          </td>
        </tr>
        <tr>
          <th scope="row">probability of {{ results.event_label }}</th>
          <td v-for="(_, i) in profiles" :key="i">
            <template v-if="predictionOf(i)">
              <b>{{ percent(predictionOf(i)!.probability) }}</b><br /><small class="quiet">{{
                limits(predictionOf(i)!.ci, points)
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
  <template v-if="figures.curve && found.curve">
    <p class="choices axes">
      <label
        >Probability across
        <select
          class="line"
          :value="found.curve.across"
          @change="setOptions({ curve: ($event.target as HTMLSelectElement).value })"
        >
          <option v-for="slot in numeric" :key="slot.variable" :value="slot.variable">
            {{ slot.title }}
          </option>
        </select></label
      >
      <label v-if="categorical.length"
        >a line for each
        <select
          class="line"
          :value="found.curve.by ?? ''"
          @change="setOptions({ curve_by: ($event.target as HTMLSelectElement).value })"
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
      :label="`Predicted probability across ${found.curve.across_title}, with bands`"
      name="Predicted probability"
    />
    <p class="quiet">Everything else is at its reference, numbers at their median.</p>
  </template>
</template>

<style scoped>
select {
  max-width: 150px;
}
input {
  width: 80px;
}
.axes {
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
