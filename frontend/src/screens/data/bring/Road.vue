<script setup lang="ts">
/** What was made from what: sources, then what was made of them, each a click away. */
import { computed } from 'vue'

import type { DataSet, Study } from '@/api/types'
import { count } from '@/design/numbers'
import { roadOf, ways } from './recipes'

const props = defineProps<{ study: Study; datasets: DataSet[]; current?: string }>()
const levels = computed(() => roadOf(props.datasets, props.current))
const place = (dataset: DataSet) => ({
  name: dataset.made ? 'made' : 'data',
  params: { study: props.study.id, dataset: dataset.id },
})
</script>

<template>
  <nav v-if="levels.length > 1" class="road" aria-label="What is made from what">
    <template v-for="(level, i) in levels" :key="i">
      <span v-if="i" class="arrow" aria-hidden="true">→</span>
      <ul class="level">
        <li v-for="dataset in level" :key="dataset.id">
          <router-link
            :to="place(dataset)"
            class="box"
            :class="{ on: dataset.id === current, behind: dataset.made?.behind.length }"
            :aria-current="dataset.id === current ? 'page' : undefined"
          >
            <span class="name">{{ dataset.name }}</span>
            <span
              ><b>{{ count(dataset.rows) }}</b
              ><small v-if="dataset.made" class="quiet how">
                {{ ways[dataset.made.recipe].words.toLowerCase() }}</small
              ></span
            >
          </router-link>
        </li>
      </ul>
    </template>
  </nav>
</template>

<style scoped>
.road {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
.level {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.box {
  display: grid;
  max-width: 190px;
  padding: 5px 11px 6px;
  border: 1px solid var(--hairline);
  border-radius: 6px;
  background: var(--sheet);
  color: var(--ink);
  text-decoration: none;
  line-height: 1.3;
}
.box.on {
  border-color: var(--pine);
  color: var(--pine);
  font-weight: 600;
}
.box.behind {
  border-style: dashed;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-size: 0.93rem;
}
.how {
  margin-left: 0.4em;
  font-weight: 400;
}
.arrow {
  color: var(--quiet);
}
</style>
