<script setup lang="ts">
/** The table and its picture, what other variables say, and the table within each stratum. */
import type { Schemas } from '@/api/types'
import { useResults } from '../useAsking'
import CrossedEvidence from './CrossedEvidence.vue'
import SeveralTable from './SeveralTable.vue'
import StrataPanel from './StrataPanel.vue'

const results = useResults<Schemas['CrosstabResults']>()
</script>

<template>
  <SeveralTable v-if="results.several.length" :lines="results.several" />
  <CrossedEvidence :table="results.whole" />
  <StrataPanel v-if="results.strata.length" :results="results" />
</template>
