<script setup lang="ts">
/** The reports of a study, and what stands on the page in view. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { usePageNow } from './page'

const props = defineProps<{
  reports: Schemas['ReportHead'][]
  current: string
  study: string
  isReader: boolean
  saved: string
}>()
const emit = defineEmits<{ make: []; remove: [id: string]; go: [block: string] }>()
const page = usePageNow()

const many = (n: number, one: string) => `${n} ${one}${n === 1 ? '' : 's'}`
const about = (report: Schemas['ReportHead']) =>
  [
    report.tables ? many(report.tables, 'table') : '',
    report.pictures ? many(report.pictures, 'picture') : '',
    report.id === props.current ? props.saved : '',
  ]
    .filter(Boolean)
    .join(' · ')

/** Headings with what numbers itself under them; what has moved is said. */
const lines = computed(() =>
  [...page.parts.value].flatMap(([block, [part]]) => {
    const text =
      part!.kind === 'heading'
        ? part!.lines
            .flat()
            .map((run) => run.text)
            .join('')
        : part!.label
    const moved = Object.keys(page.moved.value[block] ?? {}).length
    if (!text && !moved) return []
    const level = part!.kind === 'heading' ? part!.level : 4
    return [{ block, text: text || 'A paragraph', level, moved, hasLabel: !!part!.label }]
  }),
)
const movedInAll = computed(() => Object.keys(page.moved.value))
</script>

<template>
  <nav aria-label="Reports">
    <h2 class="overline">Reports</h2>
    <ul>
      <li v-for="report in reports" :key="report.id" :class="{ current: report.id === current }">
        <router-link
          :to="{ name: 'report', params: { study, report: report.id } }"
          :aria-current="report.id === current ? 'page' : undefined"
          >{{ report.title || 'Untitled report' }}</router-link
        >
        <small class="quiet">{{ about(report) }}</small>
        <button
          v-if="!isReader && report.id === current"
          class="act small"
          @click="emit('remove', report.id)"
        >
          Delete
        </button>
      </li>
    </ul>
    <button v-if="!isReader" class="act" @click="emit('make')">+ New report</button>
    <template v-if="lines.length">
      <h2 class="overline on">On this page</h2>
      <ul>
        <li
          v-for="line in lines"
          :key="line.block"
          :style="{ marginLeft: `${(Math.min(line.level, 4) - 1) * 8}px` }"
        >
          <button class="line-button" @click="emit('go', line.block)">{{ line.text }}</button>
          <small v-if="line.moved" class="moved">{{
            line.hasLabel ? 'has changed' : many(line.moved, 'number') + ' moved'
          }}</small>
        </li>
      </ul>
      <button v-if="movedInAll.length > 1 && !isReader" class="act" @click="page.look(movedInAll)">
        Looked at all of them
      </button>
    </template>
  </nav>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
li {
  border-left: 2px solid var(--hairline);
  padding: 4px 8px 4px 10px;
  line-height: 1.3;
  overflow-wrap: anywhere;
}
li.current {
  border-color: var(--pine);
  background: var(--pine-soft);
}
li a {
  color: inherit;
  text-decoration: none;
}
small {
  display: block;
}
.moved {
  color: var(--care);
}
.on {
  margin-top: 18px;
}
.line-button {
  text-align: left;
}
.small {
  font-size: 0.87rem;
}
</style>
