<script setup lang="ts">
/** Odds ratios within matched sets, with their picture; which sets tell something; pairs as a table. */
import type { Schemas } from '@/api/types'
import FigureView from '@/parts/FigureView.vue'
import { useAsking, useResults } from '../useAsking'
import MatchedTable from './MatchedTable.vue'
import PairsTable from './PairsTable.vue'
import SetsTold from './SetsTold.vue'

const { figures } = useAsking()
const results = useResults<Schemas['MatchedResults']>()
</script>

<template>
  <SetsTold :results="results" />
  <div class="side">
    <MatchedTable :results="results" />
    <FigureView
      v-if="figures.forest"
      :spec="figures.forest"
      label="Odds ratios within sets with intervals, on a log scale"
      name="Odds ratios within sets"
    />
  </div>
  <PairsTable v-if="results.pairs" :pairs="results.pairs" :event="results.event_label" />
</template>
