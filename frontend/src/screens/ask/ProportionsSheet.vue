<script setup lang="ts">
/** The answer of the Proportions lens: the event's share in each group, and how far apart. */
import { computed, ref } from 'vue'

import type { Answer, Entry, FigureSpec, ProportionsResults, Question, Study } from '@/api/types'
import { count, percent, pValue } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import { titleOf } from '@/parts/kinds'
import AnswerSheet from './AnswerSheet.vue'
import DeeperPanel from './DeeperPanel.vue'
import FirstTablePanel from './FirstTablePanel.vue'
import MarginPanel from './MarginPanel.vue'
import PlanPanel from './PlanPanel.vue'
import SharesByStratum from './SharesByStratum.vue'
import StatementPanel from './StatementPanel.vue'
import LevelField from './LevelField.vue'
import { withOptions } from './options'
import { ofRows } from './pictures'
import { limitsOf, pointsOf, ratioOf, underTitle } from './shareWords'
import { entryOf } from './words'

const props = defineProps<{
  answer: Answer
  results: ProportionsResults
  figures: Record<string, FigureSpec>
  codebook: Entry[]
  question: Question
  study: Study
  datasetId: string
  version: number
  isOld: boolean
}>()
const emit = defineEmits<{ change: [question: Question] }>()

const PAGE = 40
type Order = 'codebook' | 'share' | 'size'
const order = ref<Order>('codebook')
const page = ref(0)
const whole = computed(() => props.results.whole)
const compared = computed(() => new Map(whole.value.comparisons.map((each) => [each.value, each])))
const sorted = computed(() => {
  const by: Record<Order, (group: { share: number; n: number }) => number> = {
    codebook: () => 0,
    share: (group) => -group.share,
    size: (group) => -group.n,
  }
  return [...whole.value.groups].sort((a, b) => by[order.value](a) - by[order.value](b))
})
const shown = computed(() => sorted.value.slice(page.value * PAGE, (page.value + 1) * PAGE))
const picture = computed(() =>
  ofRows(
    props.figures.dots!,
    shown.value.map(({ value }) => value),
  ),
)
const pages = computed(() => Math.ceil(sorted.value.length / PAGE))
const title = computed(() => {
  const entry = entryOf(props.codebook, props.question.vary_with[0]?.variable)
  return entry ? titleOf(entry.variable) : ''
})
const hasShares = computed(() => whole.value.leading !== 'odds_ratio')
const options = computed(() => props.question.options as Record<string, unknown>)
const methods = [
  { value: 'wilson', title: 'Wilson (usual)' },
  { value: 'clopper_pearson', title: 'exact (Clopper–Pearson)' },
  { value: 'agresti_coull', title: 'Agresti–Coull' },
  { value: 'jeffreys', title: 'Jeffreys' },
  { value: 'wald', title: 'Wald' },
]
const alternatives = [
  { value: 'two_sided', title: 'different (two-sided)' },
  { value: 'less', title: 'lower than the reference' },
  { value: 'greater', title: 'higher than the reference' },
]

function set(changes: Record<string, unknown>) {
  emit('change', withOptions(props.question, changes))
}

function makeReference(value: string) {
  const [first, ...rest] = props.question.vary_with
  if (first)
    emit('change', { ...props.question, vary_with: [{ ...first, reference: value }, ...rest] })
}
</script>

<template>
  <AnswerSheet :answer="answer" :is-old="isOld">
    <p class="order">
      <span class="quiet">{{ title }} in order of</span>
      <button class="act" :aria-pressed="order === 'codebook'" @click="order = 'codebook'">
        the codebook
      </button>
      <button class="act" :aria-pressed="order === 'share'" @click="order = 'share'">share</button>
      <button class="act" :aria-pressed="order === 'size'" @click="order = 'size'">size</button>
    </p>
    <div class="evidence">
      <div class="scroll">
        <table class="plain">
          <thead>
            <tr>
              <th scope="col">{{ title }}</th>
              <th scope="col">{{ whole.event_label }}</th>
              <th scope="col">of</th>
              <th scope="col">% {{ whole.event_label }}</th>
              <th v-if="hasShares" scope="col" :title="`minus ${whole.reference_label}`">
                difference, points
              </th>
              <th v-if="hasShares" scope="col" :title="`against ${whole.reference_label}`">
                ratio of shares
              </th>
              <th scope="col" :title="`against ${whole.reference_label}`">odds ratio</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="group in shown" :key="group.value">
              <th scope="row">
                {{ underTitle(group.label, title) }}
                <small v-if="group.value === whole.reference" class="quiet">reference</small>
                <button
                  v-else
                  class="act against"
                  :aria-label="`Compare the others against ${group.label}`"
                  title="Compare the others against this one"
                  @click="makeReference(group.value)"
                >
                  ⇄
                </button>
              </th>
              <td>{{ count(group.events) }}</td>
              <td>{{ count(group.n) }}</td>
              <td :title="String(group.share)">
                <b>{{ percent(group.share).replace('%', '') }}</b>
                <small class="limits quiet"
                  >{{ (100 * group.share_ci[0]).toFixed(1) }} to
                  {{ (100 * group.share_ci[1]).toFixed(1) }}</small
                >
              </td>
              <template v-if="compared.get(group.value)">
                <td v-if="hasShares">
                  {{ pointsOf(compared.get(group.value)!.risk_difference?.estimate) }}
                  <small class="limits quiet">{{
                    limitsOf(compared.get(group.value)!.risk_difference?.newcombe_ci, 100, 1)
                  }}</small>
                </td>
                <td v-if="hasShares">
                  {{ ratioOf(compared.get(group.value)!.risk_ratio?.estimate) }}
                  <small class="limits quiet">{{
                    limitsOf(compared.get(group.value)!.risk_ratio?.ci)
                  }}</small>
                </td>
                <td>
                  {{ ratioOf(compared.get(group.value)!.odds_ratio.estimate) }}
                  <small class="limits quiet">{{
                    compared.get(group.value)!.odds_ratio_exact_ci
                      ? `exact ${limitsOf(compared.get(group.value)!.odds_ratio_exact_ci)}`
                      : limitsOf(compared.get(group.value)!.odds_ratio.ci)
                  }}</small>
                </td>
              </template>
              <template v-else>
                <td v-if="hasShares" class="quiet">—</td>
                <td v-if="hasShares" class="quiet">1</td>
                <td class="quiet">1</td>
              </template>
            </tr>
            <tr class="all">
              <th scope="row">everyone counted</th>
              <td>{{ count(whole.overall.events) }}</td>
              <td>{{ count(whole.overall.n) }}</td>
              <td>
                {{ percent(whole.overall.share).replace('%', '') }}
                <small class="limits quiet"
                  >{{ (100 * whole.overall.share_ci[0]).toFixed(1) }} to
                  {{ (100 * whole.overall.share_ci[1]).toFixed(1) }}</small
                >
              </td>
              <td :colspan="hasShares ? 3 : 1"></td>
            </tr>
          </tbody>
        </table>
        <p v-if="pages > 1" class="pages">
          <button class="act" :disabled="page === 0" @click="page--">Before</button>
          <span class="quiet"
            >{{ page * PAGE + 1 }} to {{ Math.min(sorted.length, (page + 1) * PAGE) }} of
            {{ count(sorted.length) }}</span
          >
          <button class="act" :disabled="page >= pages - 1" @click="page++">After</button>
        </p>
      </div>
      <FigureView
        :spec="picture"
        :label="`Share with ${whole.event_label} in each group of ${title}, with intervals`"
        :name="`${whole.event_label} by ${title}`"
      />
    </div>
    <SharesByStratum
      v-if="results.strata.length"
      :results="results"
      :question="question"
      @change="emit('change', $event)"
    />
    <template #deeper>
      <DeeperPanel
        heading="Intervals and tests"
        hint="method, level, one-sided, trend, every two groups"
      >
        <div class="choices">
          <v-select
            :model-value="options.interval ?? 'wilson'"
            :items="methods"
            label="Interval of a share by"
            class="wide"
            @update:model-value="set({ interval: $event })"
          />
          <LevelField :question="question" class="narrow" @change="emit('change', $event)" />
          <v-select
            :model-value="options.alternative ?? 'two_sided'"
            :items="alternatives"
            label="Tested whether"
            class="wide"
            @update:model-value="set({ alternative: $event })"
          />
        </div>
        <table class="plain tests">
          <tbody>
            <tr>
              <th scope="row">All groups alike (chi-square)</th>
              <td>χ² {{ whole.chi_square_homogeneity.statistic.toFixed(1) }}</td>
              <td>df {{ whole.chi_square_homogeneity.df }}</td>
              <td>p {{ pValue(whole.chi_square_homogeneity.p) }}</td>
            </tr>
            <tr v-if="whole.exact_p !== null">
              <th scope="row">All groups alike (exact)</th>
              <td colspan="2"></td>
              <td>p {{ pValue(whole.exact_p) }}</td>
            </tr>
            <tr v-if="whole.cochran_armitage_trend">
              <th scope="row">Trend along the order (Cochran–Armitage)</th>
              <td>z {{ whole.cochran_armitage_trend.statistic.toFixed(2).replace('-', '−') }}</td>
              <td></td>
              <td>p {{ pValue(whole.cochran_armitage_trend.p_two_sided) }}</td>
            </tr>
            <tr v-if="whole.cochran_armitage_trend?.departure_from_trend">
              <th scope="row">Departure from the trend</th>
              <td>
                χ² {{ whole.cochran_armitage_trend.departure_from_trend.statistic.toFixed(1) }}
              </td>
              <td>df {{ whole.cochran_armitage_trend.departure_from_trend.df }}</td>
              <td>p {{ pValue(whole.cochran_armitage_trend.departure_from_trend.p) }}</td>
            </tr>
            <tr v-for="each in whole.comparisons.slice(0, 12)" :key="each.value">
              <th scope="row">{{ each.label }} against {{ whole.reference_label }}</th>
              <td>
                {{ each.z_test ? `z ${each.z_test.statistic.toFixed(2).replace('-', '−')}` : '' }}
              </td>
              <td>{{ each.z_test ? `p ${pValue(each.z_test.p_two_sided)}` : '' }}</td>
              <td>{{ each.fisher_p === null ? '' : `exact p ${pValue(each.fisher_p)}` }}</td>
            </tr>
          </tbody>
        </table>
        <table v-if="whole.pairwise.length" class="plain tests">
          <thead>
            <tr>
              <th scope="col">Every two groups</th>
              <th scope="col">z</th>
              <th scope="col">p</th>
              <th scope="col">Holm</th>
              <th scope="col">Bonferroni</th>
              <th scope="col">Benjamini–Hochberg</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="pair in whole.pairwise.slice(0, 60)" :key="`${pair.one} ${pair.other}`">
              <th scope="row">{{ pair.one }} and {{ pair.other }}</th>
              <td>{{ pair.statistic.toFixed(2).replace('-', '−') }}</td>
              <td>{{ pValue(pair.p) }}</td>
              <td>{{ pValue(pair.holm) }}</td>
              <td>{{ pValue(pair.bonferroni) }}</td>
              <td>{{ pValue(pair.benjamini_hochberg) }}</td>
            </tr>
          </tbody>
        </table>
      </DeeperPanel>
      <DeeperPanel
        v-if="hasShares"
        heading="Within a margin"
        hint="is it equivalent, or not lower, or not higher?"
        :starts-open="whole.within_margin.length > 0"
      >
        <MarginPanel :question="question" :results="results" @change="set" />
      </DeeperPanel>
      <DeeperPanel
        heading="Table of characteristics"
        hint="the first table of a paper"
        :starts-open="question.vary_with.length > 1"
      >
        <FirstTablePanel
          :study="study"
          :dataset-id="datasetId"
          :version="version"
          :question="question"
        />
      </DeeperPanel>
      <DeeperPanel
        v-if="results.paired"
        heading="If these are pairs"
        hint="the same people asked twice"
      >
        <p>
          {{ title }} first, then the outcome: “{{ whole.event_label }}”
          {{ percent(results.paired.first_share) }} and then
          {{ percent(results.paired.second_share) }}, a difference of
          <b>{{ pointsOf(results.paired.difference) }} points</b> ({{
            limitsOf(results.paired.ci, 100, 1)
          }}). {{ count(results.paired.mcnemar.discordant[0]) }} changed one way,
          {{ count(results.paired.mcnemar.discordant[1]) }} the other; McNemar’s exact p
          {{ pValue(results.paired.mcnemar.exact_p) }}, mid-p
          {{ pValue(results.paired.mcnemar.mid_p) }}.
        </p>
      </DeeperPanel>
      <DeeperPanel heading="Hypothesis statement" hint="for teaching and protocols">
        <StatementPanel :lines="results.statement" />
      </DeeperPanel>
      <DeeperPanel heading="Planning" hint="what a study of another size would show">
        <PlanPanel :plan="results.plan" @change="set" />
      </DeeperPanel>
    </template>
  </AnswerSheet>
</template>

<style scoped>
.order {
  display: flex;
  gap: 12px;
  margin-bottom: 4px;
  font-size: 0.93rem;
}
.order .act[aria-pressed='true'] {
  color: var(--ink);
  border-bottom: 2px solid var(--pine);
}
.evidence {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 30px;
  align-items: flex-start;
}
.scroll {
  overflow-x: auto;
}
.limits {
  display: block;
  line-height: 1.1;
}
.against {
  margin-left: 4px;
}
.all > * {
  border-top: 1px solid var(--ink) !important;
}
.pages,
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  margin-top: 6px;
}
.wide {
  flex: 0 0 230px;
}
.narrow {
  flex: 0 0 110px;
}
.tests {
  margin-top: 10px;
}
</style>
