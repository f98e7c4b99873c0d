<script setup lang="ts">
/** The answer of the Distribution lens: how each variable is answered, and what was expected. */
import { computed, ref } from 'vue'

import type { Answer, DistributionResults, Entry, FigureSpec, Question, Study } from '@/api/types'
import FigureView from '@/parts/FigureView.vue'
import AnswerSheet from './AnswerSheet.vue'
import BinWidth from './BinWidth.vue'
import DeeperPanel from './DeeperPanel.vue'
import ExpectedEditor from './ExpectedEditor.vue'
import FrequencyTable from './FrequencyTable.vue'
import NumberSummary from './NumberSummary.vue'
import RelatedPanel from './RelatedPanel.vue'
import ShareOptions from './ShareOptions.vue'
import StrataTable from './StrataTable.vue'
import { withoutLayer } from './pictures'

const props = defineProps<{
  answer: Answer
  results: DistributionResults
  figures: Record<string, FigureSpec>
  codebook: Entry[]
  study: Study
  datasetId: string
  version: number
  question: Question
  isOld: boolean
}>()
const emit = defineEmits<{ change: [question: Question] }>()

const showsIntervals = ref(false)
const showsCurve = ref(false)
const variables = computed(() => props.results.whole.variables)
const first = computed(() => variables.value[0]!)
const isNumeric = computed(() => first.value.kind === 'numeric')

function picture(name: string): FigureSpec | undefined {
  const fitted = name === first.value.variable && props.figures.expected
  const spec = fitted || props.figures[`distribution:${name}`]
  if (!spec) return undefined
  const hidden = [showsIntervals.value ? '' : 'intervals', showsCurve.value ? '' : 'normal']
  return withoutLayer(spec, hidden)
}

function setOption(key: string, value: unknown) {
  const options = { ...props.question.options, [key]: value } as Question['options']
  emit('change', { ...props.question, options })
}
</script>

<template>
  <AnswerSheet :answer="answer" :is-old="isOld">
    <section v-for="(each, i) in variables" :key="each.variable" class="one">
      <h3 v-if="i > 0" class="overline">{{ each.title }}</h3>
      <div class="evidence">
        <NumberSummary v-if="each.kind === 'numeric'" :variable="each" />
        <FrequencyTable v-else :variable="each" :confidence="question.confidence" />
        <div v-if="picture(each.variable)" class="picture">
          <FigureView
            :spec="picture(each.variable)!"
            :label="
              each.kind === 'numeric'
                ? `Histogram of ${each.title}`
                : each.goodness_of_fit
                  ? `Observed counts of ${each.title} as bars, expected counts as lines`
                  : `Bars: shares of the answers to ${each.title}`
            "
          />
          <p class="switches">
            <label v-if="each.kind === 'numeric'"
              ><input v-model="showsCurve" type="checkbox" /> normal curve of the same mean and
              spread</label
            >
            <label v-else-if="!each.goodness_of_fit"
              ><input v-model="showsIntervals" type="checkbox" /> intervals</label
            >
            <BinWidth
              v-if="each.kind === 'numeric' && i === 0"
              :question="question"
              :width="each.histogram?.width"
              :unit="each.unit"
              @change="emit('change', $event)"
            />
          </p>
        </div>
      </div>
    </section>
    <StrataTable v-if="results.strata.length" :strata="results.strata" :title="first.title" />
    <template #deeper>
      <DeeperPanel
        v-if="isNumeric"
        heading="All numbers with their counts"
        :hint="first.grouped ? 'in ranges, since there are many' : ''"
      >
        <FrequencyTable :variable="first" :confidence="question.confidence" />
        <button v-if="first.grouped" class="act" @click="setOption('all_values', true)">
          List every number
        </button>
      </DeeperPanel>
      <DeeperPanel
        v-if="!isNumeric"
        heading="Intervals and a stated share"
        hint="which interval, at what level; is the share other than a stated one?"
        :starts-open="!!first.share?.tests"
      >
        <ShareOptions :question="question" :variable="first" @change="emit('change', $event)" />
      </DeeperPanel>
      <DeeperPanel
        v-if="!isNumeric && first.kind !== 'text' && first.table.length > 1"
        heading="Against expected shares"
        hint="equal, stated, or another variable’s"
        :starts-open="!!first.goodness_of_fit"
      >
        <ExpectedEditor
          :question="question"
          :variable="first"
          :codebook="codebook"
          @change="emit('change', $event)"
        />
      </DeeperPanel>
      <DeeperPanel
        v-if="first.kind !== 'text'"
        heading="What goes with it?"
        hint="a quick look over all other variables"
      >
        <RelatedPanel
          :study="study"
          :dataset-id="datasetId"
          :version="version"
          :question="question"
          @ask="emit('change', $event)"
        />
      </DeeperPanel>
    </template>
  </AnswerSheet>
</template>

<style scoped>
.one + .one {
  margin-top: 18px;
  padding-top: 12px;
  border-top: 1px solid var(--hairline);
}
.evidence {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 32px;
  align-items: flex-start;
}
.picture {
  flex: 0 1 auto;
  min-width: 0;
}
.switches {
  display: flex;
  gap: 18px;
  font-size: 0.9rem;
  color: var(--quiet);
}
</style>
