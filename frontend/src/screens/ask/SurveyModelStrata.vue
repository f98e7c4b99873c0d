<script setup lang="ts">
/** The same weighted model within each stratum, everybody else staying in the design. */
import { computed } from 'vue'

import type { Survey, SurveyModel } from '@/api/types'
import { count, oneDecimal, pValue } from '@/design/numbers'
import StrataOfModel from './StrataOfModel.vue'
import { rowsOf } from './terms'

const props = defineProps<{
  model: SurveyModel
  strata: NonNullable<Survey['model_strata']>
  title: string
}>()

const fitted = computed(() => props.strata.strata.filter(({ left_out }) => !left_out))
const rows = computed(() =>
  rowsOf(props.model.terms).map((row, i) => ({
    name: `${row.of}: ${row.label}`,
    together: { ratio: row.odds_ratio, ci: row.ci },
    within: fitted.value.map(({ ratios }) => {
      const found = ratios[i]
      return {
        ratio: found?.odds_ratio,
        ci: found?.ci,
        title: found ? `p ${pValue(found.p)}` : undefined,
      }
    }),
  })),
)
const same = computed(() => {
  const test = props.strata.same
  if (!test) return `Not tested for being the same: ${props.strata.reason}`
  const df = `df ${oneDecimal(test.df1)}, ${oneDecimal(test.df2)}`
  return `Are the coefficients the same everywhere? Adjusted Wald F ${test.f.toFixed(2)}, ${df}, p ${pValue(test.p)}.`
})
</script>

<template>
  <StrataOfModel
    :title="title"
    :heading="`The same model within each ${title}, weighted`"
    :rows="rows"
    :strata="fitted.map(({ label, n }) => ({ label, people: `n ${count(n)}` }))"
    :left-out="strata.strata.filter(({ left_out }) => left_out)"
    :same="same"
  />
</template>
