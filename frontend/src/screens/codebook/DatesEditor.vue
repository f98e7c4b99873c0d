<script setup lang="ts">
/** What is made of dates: bands of time, parts, time to another date or age at it, before and after. */
import { computed, ref, watch } from 'vue'

import type { Entry, Step } from '@/api/types'
import { titleOf } from '@/parts/kinds'
import MakeForm from './MakeForm.vue'
import { freeName } from './steps'

type How = 'bands' | 'part' | 'between' | 'after'

const props = defineProps<{ entry: Entry; codebook: Entry[] }>()
const emit = defineEmits<{ step: [step: Step]; close: [] }>()

const ways: Record<How, string> = {
  bands: 'bands in a row',
  part: 'part of the year',
  between: 'time between',
  after: 'on or after a day',
}
const variable = computed(() => props.entry.variable)
const title = computed(() => titleOf(variable.value))
const span = computed(() => {
  const { summary } = props.entry
  return summary.kind === 'dates' && summary.first
    ? { first: summary.first, last: summary.last! }
    : undefined
})
const others = computed(() =>
  props.codebook.filter(
    ({ variable: other }) => other.kind === 'date' && other.name !== variable.value.name,
  ),
)
const how = ref<How>('bands')
const by = ref<'year' | 'quarter' | 'month'>('month')
const part = ref<'year' | 'quarter' | 'month'>('month')
const other = ref(others.value[0]?.variable.name ?? '')
const isStart = ref(true)
const unit = ref<'days' | 'years' | 'full_years'>('days')
const day = ref(span.value?.first ?? '')

const wanted = computed(() => {
  const own = variable.value.name
  if (how.value === 'bands') return `${own}_${by.value}s`
  if (how.value === 'part') return `${own}_${part.value}`
  return how.value === 'between' ? `${unit.value}_to_${other.value || 'x'}` : `${own}_from`
})
const name = ref(freeName(wanted.value, props.codebook))
const label = ref('')
watch(wanted, (now) => (name.value = freeName(now, props.codebook)))

const problem = computed(() => {
  if (how.value === 'bands' && !span.value) return 'There is no date to band.'
  if (how.value === 'between' && !other.value) return 'There is no other variable with dates.'
  return how.value === 'after' && !day.value ? 'Say which day.' : undefined
})

function stepOf(): Step {
  const named = { name: name.value.trim(), label: label.value.trim() }
  const own = variable.value.name
  if (how.value === 'bands')
    return { step: 'date_bands', variable: own, by: by.value, ...span.value!, ...named }
  if (how.value === 'part') return { step: 'date_part', variable: own, part: part.value, ...named }
  if (how.value === 'after') return { step: 'on_or_after', variable: own, day: day.value, ...named }
  const [start, end] = isStart.value ? [own, other.value] : [other.value, own]
  return { step: 'time_between', start, end, unit: unit.value, ...named }
}
</script>

<template>
  <MakeForm
    v-model:name="name"
    v-model:label="label"
    action="Make it of these dates"
    :problem="problem"
    @make="emit('step', stepOf())"
    @close="emit('close')"
  >
    <p class="choices" role="group" aria-label="What to make">
      <button
        v-for="(words, each) in ways"
        :key="each"
        type="button"
        class="act"
        :aria-pressed="how === each"
        @click="how = each"
      >
        {{ words }}
      </button>
    </p>
    <label v-if="how === 'bands'"
      >One band for each
      <select v-model="by" class="line">
        <option value="year">year</option>
        <option value="quarter">quarter</option>
        <option value="month">month</option>
      </select>
      <span v-if="span" class="quiet"> from {{ span.first }} to {{ span.last }}</span></label
    >
    <label v-else-if="how === 'part'"
      >The
      <select v-model="part" class="line">
        <option value="month">month, whatever the year</option>
        <option value="quarter">quarter, whatever the year</option>
        <option value="year">year, as a number</option>
      </select></label
    >
    <label v-else-if="how === 'after'"
      >Yes from this day on <input v-model="day" type="date" class="line"
    /></label>
    <template v-else>
      <label
        ><select v-model="isStart" class="line" aria-label="Direction">
          <option :value="true">from {{ title }} to</option>
          <option :value="false">to {{ title }} from</option>
        </select>
        <select v-model="other" class="line" aria-label="The other date">
          <option v-for="each in others" :key="each.variable.name" :value="each.variable.name">
            {{ titleOf(each.variable) }}
          </option>
        </select></label
      >
      <label
        >in
        <select v-model="unit" class="line">
          <option value="days">days</option>
          <option value="years">years (of 365.25 days)</option>
          <option value="full_years">full years, as an age</option>
        </select></label
      >
    </template>
  </MakeForm>
</template>
