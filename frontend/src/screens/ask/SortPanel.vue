<script setup lang="ts">
/** How well the model sorts: the area under the curve, and everything at a cut-off to drag. */
import { computed, ref, watch } from 'vue'

import type { FigureSpec, OddsResults, Question } from '@/api/types'
import { count, percent } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import { withOptions } from './options'
import { limitsOf } from './shareWords'

const props = defineProps<{
  results: OddsResults
  figures: Record<string, FigureSpec>
  question: Question
}>()
const emit = defineEmits<{ change: [question: Question] }>()

const model = computed(() => props.results.whole)
const dragged = ref(model.value.cutoff)
watch(
  () => model.value.cutoff,
  (cutoff) => (dragged.value = cutoff),
)
const here = computed(() =>
  model.value.classification.reduce((best, each) =>
    Math.abs(each.cutoff - dragged.value) < Math.abs(best.cutoff - dragged.value) ? each : best,
  ),
)
const share = (value: number | null) => (value === null ? '—' : percent(value))
const event = computed(() => props.results.event_label)
const figuresHere = computed(() => [
  ['sorted rightly', share(here.value.accuracy)],
  ['guessing the commoner answer', share(here.value.baseline_accuracy)],
  [`of those with ${event.value}, predicted (sensitivity)`, share(here.value.sensitivity)],
  [`of those without, not predicted (specificity)`, share(here.value.specificity)],
  ['of those predicted, with it (predictive value)', share(here.value.ppv)],
  ['of those not predicted, without it', share(here.value.npv)],
])
</script>

<template>
  <p>
    AUC <b>{{ model.auc.estimate.toFixed(3) }}</b>
    <template v-if="model.auc.ci"> ({{ limitsOf(model.auc.ci, 1, 3) }})</template>: how often
    somebody with “{{ event }}” has the higher prediction than somebody without. 0.5 is guessing. It
    is measured on the rows the model was fitted to, so new rows will be sorted a little worse.
  </p>
  <div class="side">
    <FigureView :spec="figures.roc!" label="Sensitivity against one minus specificity" name="ROC" />
    <div class="cut">
      <label class="slide"
        >“{{ event }}” is predicted from a probability of <b>{{ here.cutoff }}</b>
        <input
          v-model.number="dragged"
          type="range"
          min="0.01"
          max="0.99"
          step="0.01"
          aria-label="Cut-off"
          @change="emit('change', withOptions(question, { cutoff: dragged }))"
        />
      </label>
      <table class="plain">
        <thead>
          <tr>
            <th scope="col"></th>
            <th scope="col">predicted</th>
            <th scope="col">not predicted</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">with {{ event }}</th>
            <td>{{ count(here.true_positive) }}</td>
            <td>{{ count(here.false_negative) }}</td>
          </tr>
          <tr>
            <th scope="row">without</th>
            <td>{{ count(here.false_positive) }}</td>
            <td>{{ count(here.true_negative) }}</td>
          </tr>
        </tbody>
      </table>
      <dl>
        <div v-for="[words, value] in figuresHere" :key="words">
          <dd>{{ value }}</dd>
          <dt>{{ words }}</dt>
        </div>
      </dl>
    </div>
  </div>
  <FigureView
    :spec="figures.predicted!"
    label="Predicted probabilities of those with the event and of those without"
    name="Predicted probabilities"
  />
  <p class="quiet">
    Of {{ count(model.concordance.pairs) }} pairs of one with and one without,
    {{ percent(model.concordance.concordant / model.concordance.pairs) }} are ordered rightly and
    {{ percent(model.concordance.discordant / model.concordance.pairs) }} wrongly. Somers’ d
    {{ model.concordance.somers_d.toFixed(3)
    }}<template v-if="model.concordance.goodman_kruskal_gamma !== null"
      >, gamma {{ model.concordance.goodman_kruskal_gamma.toFixed(3) }}</template
    >, tau-a {{ model.concordance.kendall_tau_a.toFixed(3) }}.
  </p>
</template>

<style scoped>
.side {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 28px;
  align-items: flex-start;
  margin: 10px 0;
}
.slide {
  display: grid;
  gap: 4px;
  margin-bottom: 10px;
}
.slide input {
  accent-color: var(--pine);
}
dl {
  margin: 10px 0 0;
}
dl div {
  display: flex;
  gap: 10px;
}
dd {
  margin: 0;
  width: 52px;
  text-align: right;
  font-weight: 600;
}
dt {
  color: var(--quiet);
}
</style>
