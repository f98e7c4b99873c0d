<script setup lang="ts">
/** How the report writes numbers, in text, tables and pictures alike. */
import type { Schemas } from '@/api/types'

type Style = Schemas['NumberStyle']
const props = defineProps<{ value: Style }>()
const emit = defineEmits<{ change: [value: Style] }>()

const set = (changes: Partial<Style>) => emit('change', { ...props.value, ...changes })
const chosen = (event: Event) => (event.target as HTMLSelectElement).value
const digits = (event: Event) =>
  ({ '2': 2, '3': 3 })[chosen(event)] as Style['p_digits'] | undefined
</script>

<template>
  <details>
    <summary class="overline">Numbers in print</summary>
    <label
      >Decimals after a
      <select
        class="line"
        :value="value.decimal_comma ? 'comma' : 'point'"
        @change="set({ decimal_comma: chosen($event) === 'comma' })"
      >
        <option value="point">point: 3.45</option>
        <option value="comma">comma: 3,45</option>
      </select>
    </label>
    <label
      >p and what is below 1
      <select
        class="line"
        :value="value.leading_zero ? 'zero' : 'none'"
        @change="set({ leading_zero: chosen($event) === 'zero' })"
      >
        <option value="none">without a zero: .042</option>
        <option value="zero">with a zero: 0.042</option>
      </select>
    </label>
    <label
      >p with
      <select
        class="line"
        :value="value.p_digits ?? ''"
        @change="set({ p_digits: digits($event) ?? null })"
      >
        <option value="">two or three digits, as needed</option>
        <option value="2">two digits</option>
        <option value="3">three digits</option>
      </select>
    </label>
    <label
      >Percentages with
      <select
        class="line"
        :value="value.percent_digits"
        @change="set({ percent_digits: Number(chosen($event)) })"
      >
        <option :value="0">no decimals</option>
        <option :value="1">one decimal</option>
        <option :value="2">two decimals</option>
      </select>
    </label>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
  display: list-item;
}
label {
  display: grid;
  font-size: 0.93rem;
  margin-bottom: 6px;
}
label .line {
  text-align: left;
}
</style>
