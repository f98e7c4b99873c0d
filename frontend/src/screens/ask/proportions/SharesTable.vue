<script setup lang="ts">
/** Groups with their shares, and each against the reference; under a design shares are weighted. */
import { computed } from 'vue'

import type { Schemas, Share } from '@/api/types'
import { count, limits, percent, points, ratio, two } from '@/design/numbers'
import { useAsking } from '../useAsking'
import { underTitle } from '../words'

const props = defineProps<{
  groups: readonly Share[]
  results: Schemas['ProportionsResults']
}>()

const { question, put, titles } = useAsking()
const whole = computed(() => props.results.whole)
const hasShares = computed(() => whole.value.shares_have_meaning)
const isWeighted = computed(() => !!whole.value.overall.weighted)
const lines = computed(() =>
  props.groups.map((group) => ({
    group,
    against: whole.value.comparisons.find(({ value }) => value === group.value),
    exact: props.results.closer.find(({ value }) => value === group.value)?.odds_ratio_exact_ci,
  })),
)
const unweighted = ({ events, n }: Share) => points(events / n)
const exactly = ({ share, weighted }: Share) =>
  weighted ? `${share}; standard error ${weighted.se}` : String(share)

function makeReference(value: string) {
  const [first, ...rest] = question.value.vary_with
  if (first) put({ vary_with: [{ ...first, reference: value }, ...rest] })
}
</script>

<template>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">{{ titles.rows }}</th>
          <th scope="col">{{ isWeighted ? 'sampled with it' : whole.event_label }}</th>
          <th scope="col">of</th>
          <th v-if="isWeighted" scope="col">% unweighted</th>
          <th scope="col">% {{ whole.event_label }}</th>
          <th v-if="isWeighted" scope="col">design effect</th>
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
        <tr v-for="{ group, against, exact } in lines" :key="group.value">
          <th scope="row">
            {{ underTitle(group.label, titles.rows) }}
            <small v-if="!against" class="quiet">reference</small>
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
          <td v-if="isWeighted" class="quiet">{{ unweighted(group) }}</td>
          <td :title="exactly(group)">
            <b>{{ points(group.share) }}</b>
            <small class="under">{{ limits(group.share_ci, points) }}</small>
          </td>
          <td v-if="isWeighted" class="quiet">{{ two(group.weighted?.deff) }}</td>
          <template v-if="against">
            <td v-if="hasShares">
              {{ points(against.risk_difference?.estimate as number | null) }}
              <small class="under">{{ limits(against.risk_difference?.ci, points) }}</small>
            </td>
            <td v-if="hasShares">
              {{ ratio(against.risk_ratio?.estimate) }}
              <small class="under">{{ limits(against.risk_ratio?.ci) }}</small>
            </td>
            <td>
              {{ ratio(against.odds_ratio.estimate) }}
              <small class="under">{{
                exact ? `exact ${limits(exact)}` : limits(against.odds_ratio.ci)
              }}</small>
            </td>
          </template>
          <template v-else>
            <td v-if="hasShares" class="quiet">—</td>
            <td v-if="hasShares" class="quiet">1</td>
            <td class="quiet">1</td>
          </template>
        </tr>
        <tr class="of-all">
          <th scope="row">everyone counted</th>
          <td>{{ count(whole.overall.events) }}</td>
          <td>{{ count(whole.overall.n) }}</td>
          <td v-if="isWeighted" class="quiet">{{ unweighted(whole.overall) }}</td>
          <td :title="percent(whole.overall.share)">
            {{ points(whole.overall.share) }}
            <small class="under">{{ limits(whole.overall.share_ci, points) }}</small>
          </td>
          <td v-if="isWeighted" class="quiet">{{ two(whole.overall.weighted?.deff) }}</td>
          <td :colspan="hasShares ? 3 : 1"></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.against {
  margin-left: 4px;
}
</style>
