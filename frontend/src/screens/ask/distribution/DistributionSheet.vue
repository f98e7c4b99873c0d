<script setup lang="ts">
/** How each variable is answered, with its picture, and the outcome within each stratum. */
import { computed, ref } from 'vue'

import type { FigureSpec, Schemas } from '@/api/types'
import FigureView from '@/parts/FigureView.vue'
import { withoutLayer } from '../answer/pictures'
import { useAsking, useResults } from '../useAsking'
import BinWidth from './BinWidth.vue'
import FrequencyTable from './FrequencyTable.vue'
import NumberSummary from './NumberSummary.vue'
import StrataTable from './StrataTable.vue'

type Variable = Schemas['VariableDistribution']

const { figures } = useAsking()
const results = useResults<Schemas['DistributionResults']>()
const showsIntervals = ref(false)
const showsCurve = ref(false)
const first = computed(() => results.value.variables[0]!)

function picture({ variable }: Variable): FigureSpec | undefined {
  const fitted = variable === first.value.variable && figures.value.expected
  const spec = fitted || figures.value[`distribution:${variable}`]
  if (!spec) return undefined
  const hidden = [showsIntervals.value ? '' : 'intervals', showsCurve.value ? '' : 'normal']
  return withoutLayer(spec, hidden)
}

function named({ kind, title, goodness_of_fit }: Variable): string {
  if (kind === 'numeric') return `Histogram of ${title}`
  return goodness_of_fit
    ? `Observed answers to ${title} as bars, expected ones as lines`
    : `Bars: shares of the answers to ${title}`
}
</script>

<template>
  <section v-for="(each, i) in results.variables" :key="each.variable" class="one">
    <h3 v-if="i > 0" class="overline">{{ each.title }}</h3>
    <div class="side">
      <NumberSummary v-if="each.kind === 'numeric'" :variable="each" />
      <FrequencyTable v-else :variable="each" :rows="each.table" />
      <div v-if="picture(each)" class="figure">
        <FigureView :spec="picture(each)!" :label="named(each)" :name="each.title" />
        <p class="switches">
          <label v-if="each.kind === 'numeric' && !each.histogram?.unweighted_percent"
            ><input v-model="showsCurve" type="checkbox" /> normal curve of the same mean and
            spread</label
          >
          <label v-else-if="each.kind !== 'numeric' && !each.goodness_of_fit"
            ><input v-model="showsIntervals" type="checkbox" /> intervals</label
          >
          <BinWidth
            v-if="each.kind === 'numeric' && i === 0"
            :width="each.histogram?.width"
            :unit="each.unit"
          />
        </p>
      </div>
    </div>
  </section>
  <StrataTable v-if="results.strata.length" :strata="results.strata" :title="first.title" />
</template>

<style scoped>
.one + .one {
  margin-top: 18px;
  padding-top: 12px;
  border-top: 1px solid var(--hairline);
}
.switches {
  display: flex;
  gap: 18px;
  font-size: 0.9rem;
  color: var(--quiet);
}
</style>
