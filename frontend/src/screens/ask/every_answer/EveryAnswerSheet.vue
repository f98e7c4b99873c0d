<script setup lang="ts">
/** Odds ratios of a higher answer, or of each answer against the base, with their picture. */
import type { Schemas } from '@/api/types'
import FigureView from '@/parts/FigureView.vue'
import { useAsking, useResults } from '../useAsking'
import AnswersByStratum from './AnswersByStratum.vue'
import OrderedTable from './OrderedTable.vue'
import SeveralTable from './SeveralTable.vue'
import WhichWay from './WhichWay.vue'

const { figures } = useAsking()
const results = useResults<Schemas['EveryAnswerResults']>()
</script>

<template>
  <WhichWay :results="results" />
  <div class="side">
    <OrderedTable v-if="results.is_ordered" :results="results" />
    <SeveralTable v-else :results="results" />
    <FigureView
      v-if="figures.forest"
      :spec="figures.forest"
      label="Odds ratios with intervals, on a log scale"
      name="Odds ratios"
    />
  </div>
  <AnswersByStratum v-if="results.strata.length" :results="results" />
</template>
