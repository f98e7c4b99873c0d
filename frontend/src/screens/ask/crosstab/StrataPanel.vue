<script setup lang="ts">
/** The association within each stratum, pooled, and whether it is the same everywhere. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, limits, pValue, statistic, two } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import { useAsking } from '../useAsking'
import PooledTable from './PooledTable.vue'

const props = defineProps<{ results: Schemas['CrosstabResults'] }>()

const { figures, within } = useAsking()
const mosaics = computed(() =>
  Object.entries(figures.value).filter(([name]) => name.startsWith('mosaic:')),
)
const withTable = computed(() => props.results.strata.filter(({ table }) => table).length)
const sign = computed(
  () => props.results.strata.find(({ table }) => table?.test)?.table?.test?.sign || 'test',
)
</script>

<template>
  <section class="strata" :aria-label="`Within each ${within}`">
    <h3 class="overline">Within each {{ within }}</h3>
    <div class="side">
      <div class="scroll">
        <table class="plain">
          <thead>
            <tr>
              <th scope="col">{{ within }}</th>
              <th scope="col">counted</th>
              <th scope="col">{{ sign }}</th>
              <th scope="col">p</th>
              <th scope="col">V</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="stratum in results.strata" :key="stratum.label">
              <th scope="row">{{ stratum.label }}</th>
              <td>{{ count(stratum.n) }}</td>
              <template v-if="stratum.table">
                <td :title="stratum.table.test?.name">
                  {{
                    stratum.table.test?.statistic == null
                      ? ''
                      : statistic(stratum.table.test.statistic)
                  }}
                </td>
                <td>{{ pValue(stratum.table.test?.p) }}</td>
                <td :title="limits(stratum.table.cramers_v_ci, two)">
                  {{ two(stratum.table.cramers_v) }}
                </td>
              </template>
              <td v-else colspan="3" class="left quiet">left out: {{ stratum.left_out }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <FigureView
        v-if="figures.strata"
        :spec="figures.strata"
        label="Strength in every stratum, with its interval, and pooled"
        :name="`Strength within each ${within}`"
      />
    </div>
    <PooledTable v-if="results.pooled" :pooled="results.pooled" />
    <div v-if="mosaics.length" class="multiples">
      <FigureView
        v-for="[name, spec] in mosaics"
        :key="name"
        :spec="spec"
        :label="`Mosaic plot within ${spec.title}`"
        :name="`Mosaic, ${spec.title}`"
        is-small
      />
    </div>
    <p v-if="mosaics.length && mosaics.length < withTable" class="quiet">
      The first {{ mosaics.length }} of {{ withTable }} strata are drawn.
    </p>
  </section>
</template>

<style scoped>
.multiples {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 26px;
  margin-top: 14px;
}
</style>
