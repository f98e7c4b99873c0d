<script setup lang="ts">
/** Odds ratios, adjusted beside unadjusted, with their picture, and within each stratum. */
import type { Schemas } from '@/api/types'
import FigureView from '@/parts/FigureView.vue'
import { useAsking, useResults } from '../useAsking'
import ModelByStratum from './ModelByStratum.vue'
import OddsTable from './OddsTable.vue'

const { figures } = useAsking()
const results = useResults<Schemas['OddsResults']>()
</script>

<template>
  <div class="side">
    <OddsTable :results="results" />
    <FigureView
      :spec="figures.forest!"
      label="Odds ratios with intervals, on a log scale"
      name="Odds ratios"
    />
  </div>
  <ModelByStratum v-if="results.strata.length" :results="results" />
</template>
