<script setup lang="ts">
/** How many sets there are, of which shape, and how many tell nothing. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count } from '@/design/numbers'

const props = defineProps<{ results: Schemas['MatchedResults'] }>()
const sets = computed(() => props.results.sets)
const MOST = 6
const shapes = computed(() =>
  [...sets.value.shapes]
    .sort((a, b) => b.sets - a.sets)
    .slice(0, MOST)
    .map(({ events, others, sets: many }) => `${count(many)} of ${events} to ${others}`)
    .join(', '),
)
const more = computed(() => sets.value.shapes.length - MOST)
</script>

<template>
  <p class="sets">
    <b>{{ count(sets.informative) }}</b> of {{ count(sets.sets) }} sets ({{ results.set_title }})
    tell something: {{ shapes
    }}<template v-if="more > 0"> and {{ count(more) }} other shapes</template>
    <span class="quiet"> (with to without the event)</span>.
    <span v-if="sets.events_only + sets.no_events" class="quiet">
      {{ count(sets.events_only) }} have only people with the event and
      {{ count(sets.no_events) }} only people without.
    </span>
  </p>
</template>

<style scoped>
.sets {
  margin-bottom: 8px;
}
</style>
