<script setup lang="ts">
/** The sheet that shows an answer: by its lens, or by the design of the sample. */
import { computed, ref } from 'vue'

import type { AnswerWithFigures, DataSet, Entry, Question, Study } from '@/api/types'
import CrosstabSheet from './CrosstabSheet.vue'
import DistributionSheet from './DistributionSheet.vue'
import OddsSheet from './OddsSheet.vue'
import ProportionsSheet from './ProportionsSheet.vue'
import SurveySheet from './SurveySheet.vue'

const props = defineProps<{
  shown: AnswerWithFigures
  question: Question
  codebook: Entry[]
  study: Study
  dataset: DataSet
  isOld: boolean
}>()
const emit = defineEmits<{ change: [question: Question] }>()

// Sheets with a table that can be exchanged.
const sheet = ref<InstanceType<typeof CrosstabSheet> | InstanceType<typeof SurveySheet>>()
const results = computed(() => props.shown.answer.results)
const shared = computed(() => ({
  answer: props.shown.answer,
  figures: props.shown.figures,
  question: props.question,
  codebook: props.codebook,
  isOld: props.isOld,
  onChange: (question: Question) => emit('change', question),
}))
const placed = computed(() => ({
  study: props.study,
  datasetId: props.dataset.id,
  version: props.dataset.version,
}))

defineExpose({ transpose: () => sheet.value?.transpose() })
</script>

<template>
  <SurveySheet
    v-if="shown.answer.survey"
    ref="sheet"
    v-bind="{ ...shared, ...placed }"
    :survey="shown.answer.survey"
  />
  <DistributionSheet
    v-else-if="results.lens === 'distribution'"
    v-bind="{ ...shared, ...placed }"
    :results="results"
  />
  <ProportionsSheet
    v-else-if="results.lens === 'proportions'"
    v-bind="{ ...shared, ...placed }"
    :results="results"
  />
  <OddsSheet v-else-if="results.lens === 'odds'" v-bind="shared" :results="results" />
  <CrosstabSheet v-else ref="sheet" v-bind="shared" :results="results" />
</template>
