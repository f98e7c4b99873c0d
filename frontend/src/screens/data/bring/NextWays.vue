<script setup lang="ts">
/** Where to go from a data set: ask of it, or bring it together with others. */
import { computed } from 'vue'

import type { DataSet, Study } from '@/api/types'
import { ways, type Way } from './recipes'

const props = defineProps<{ study: Study; dataset: DataSet }>()
const next = computed<Way[]>(() =>
  props.dataset.cases.rows === 'several'
    ? ['one_per_case', 'groups', 'match']
    : ['match', 'groups'],
)
</script>

<template>
  <section aria-label="Next">
    <h2 class="overline">Next</h2>
    <p class="choices">
      <router-link
        class="act"
        :to="{ name: 'ask', params: { study: study.id }, query: { about: dataset.id } }"
        >Ask of it</router-link
      >
      <router-link
        v-for="way in next"
        :key="way"
        class="act"
        :to="{
          name: 'bring',
          params: { study: study.id },
          query: { way, from: dataset.id },
        }"
        >{{ ways[way].words }}</router-link
      >
    </p>
  </section>
</template>
