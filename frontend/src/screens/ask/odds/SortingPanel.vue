<script setup lang="ts">
/** How well the model sorts: the area under the curve, and everything at a cut-off to drag. */
import { computed, ref, watch } from 'vue'

import type { Figures, Schemas } from '@/api/types'
import { count, limits, percent, three } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import { useOptions } from '../useAsking'

const props = defineProps<{ found: Schemas['SortingPanel']; figures: Figures }>()

const { set } = useOptions('odds')
const dragged = ref(props.found.cutoff)
watch(
  () => props.found.cutoff,
  (cutoff) => (dragged.value = cutoff),
)
const here = computed(() =>
  props.found.classification.reduce((best, each) =>
    Math.abs(each.cutoff - dragged.value) < Math.abs(best.cutoff - dragged.value) ? each : best,
  ),
)
const event = computed(() => props.found.event_label)
const nobody = computed(() => here.value.true_positive + here.value.false_positive === 0)
const figuresHere = computed(() => [
  ['sorted rightly', percent(here.value.accuracy)],
  ['guessing the commoner answer', percent(here.value.baseline_accuracy)],
  [`of those with ${event.value}, predicted (sensitivity)`, percent(here.value.sensitivity)],
  [`of those without, not predicted (specificity)`, percent(here.value.specificity)],
  ['of those predicted, with it (predictive value)', percent(here.value.ppv)],
  ['of those not predicted, without it', percent(here.value.npv)],
])
const pairs = computed(() => props.found.concordance)
</script>

<template>
  <p>
    AUC <b>{{ three(found.auc.estimate) }}</b>
    <template v-if="found.auc.ci"> ({{ limits(found.auc.ci, three) }})</template>: how often
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
          @change="set({ cutoff: dragged })"
        />
      </label>
      <p v-if="nobody" class="care">
        At this cut-off the model predicts “{{ event }}” of nobody.
        <button class="act" @click="set({ cutoff: found.suggested })">
          Take {{ found.suggested }}, the share with “{{ event }}”
        </button>
      </p>
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
    Of {{ count(pairs.pairs) }} pairs of one with and one without,
    {{ percent(pairs.concordant / pairs.pairs) }} are ordered rightly and
    {{ percent(pairs.discordant / pairs.pairs) }} wrongly. Somers’ d {{ three(pairs.somers_d)
    }}<template v-if="pairs.goodman_kruskal_gamma !== null"
      >, gamma {{ three(pairs.goodman_kruskal_gamma) }}</template
    >, tau-a {{ three(pairs.kendall_tau_a) }}.
  </p>
</template>

<style scoped>
.side {
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
.care {
  color: var(--care);
  margin-bottom: 8px;
  max-width: 420px;
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
