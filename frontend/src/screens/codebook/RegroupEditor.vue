<script setup lang="ts">
/** Old categories to new ones, in a table; an empty cell sets the category aside. */
import { computed, ref } from 'vue'

import type { Entry, Step } from '@/api/types'
import { count } from '@/design/numbers'
import { withinSentence } from '@/parts/kinds'
import MakeForm from './MakeForm.vue'
import { freeName } from './steps'

const props = defineProps<{ entry: Entry; codebook: Entry[] }>()
const emit = defineEmits<{ step: [step: Step]; close: [] }>()

const variable = computed(() => props.entry.variable)
const name = ref(freeName(`${variable.value.name}_regrouped`, props.codebook))
const label = ref(`${withinSentence(variable.value)}, regrouped`)
const targets = ref(variable.value.categories.map((category) => category.label))

const groups = computed(() => {
  const found = new Map<string, string[]>()
  variable.value.categories.forEach(({ value }, i) => {
    const target = targets.value[i]?.trim()
    if (target) found.set(target, [...(found.get(target) ?? []), value])
  })
  return [...found].map(([label, values]) => ({ label, values }))
})
const sizes = computed(() => {
  const { summary } = props.entry
  const counts = summary.kind === 'categories' ? summary.counts : []
  const index = new Map(variable.value.categories.map(({ value }, i) => [value, i]))
  return groups.value.map(({ label, values }) => ({
    label,
    n: values.reduce((sum, value) => sum + (counts[index.get(value)!] ?? 0), 0),
  }))
})
const problem = computed(() => (groups.value.length ? undefined : 'Everything is set aside.'))

function make() {
  emit('step', {
    step: 'regroup',
    variable: variable.value.name,
    name: name.value.trim(),
    label: label.value.trim(),
    groups: groups.value,
  })
}
</script>

<template>
  <MakeForm
    v-model:name="name"
    v-model:label="label"
    action="Make the regrouped variable"
    :problem="problem"
    @make="make"
    @close="emit('close')"
  >
    <p class="quiet">Give the same new name to those that belong together; empty sets aside.</p>
    <table>
      <thead>
        <tr>
          <th scope="col">Old</th>
          <th scope="col">New</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(category, i) in variable.categories" :key="category.value">
          <th scope="row">{{ category.label }}</th>
          <td>
            <input
              v-model="targets[i]"
              :list="`groups-${variable.name}`"
              :aria-label="`New category of ${category.label}`"
              placeholder="set aside"
              maxlength="300"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <datalist :id="`groups-${variable.name}`">
      <option v-for="group in groups" :key="group.label" :value="group.label" />
    </datalist>
    <p class="sizes">
      <span v-for="size in sizes" :key="size.label"
        ><b>{{ size.label }}</b> {{ count(size.n) }}</span
      >
    </p>
  </MakeForm>
</template>

<style scoped>
table {
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  padding: 2px 8px 2px 0;
  overflow-wrap: anywhere;
}
thead th {
  color: var(--quiet);
  font-size: 0.87rem;
}
input {
  width: 100%;
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  padding: 3px 2px;
}
input:focus {
  outline: none;
  border-color: var(--pine);
}
.sizes {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  font-size: 0.93rem;
}
</style>
