<script setup lang="ts">
/** Odds ratios of a weighted model beside those without the design. */
import type { Survey } from '@/api/types'
import { pValue } from '@/design/numbers'
import { limitsOf, ratioOf } from './shareWords'

type Model = NonNullable<Survey['model']>

const props = defineProps<{ model: Model }>()
const testOf = (term: string) => props.model.terms.find((each) => each.term === term)
const isFirst = (i: number) => !i || props.model.rows[i - 1]!.term !== props.model.rows[i]!.term
</script>

<template>
  <div class="scroll">
    <table class="plain">
      <thead>
        <tr>
          <th scope="col"></th>
          <th scope="col">without the design</th>
          <th scope="col">odds ratio with the design</th>
          <th scope="col">p</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="(row, i) in model.rows" :key="`${row.term} ${row.given} ${row.label}`">
          <tr v-if="isFirst(i)">
            <th scope="row" class="title">{{ row.title }}</th>
            <td></td>
            <td></td>
            <td
              v-if="testOf(row.term)"
              :title="`Adjusted Wald F ${testOf(row.term)!.wald.f.toFixed(2)}`"
            >
              {{ pValue(testOf(row.term)!.wald.p) }}
            </td>
            <td v-else></td>
          </tr>
          <tr>
            <th scope="row" class="level">
              <span v-if="row.given" class="quiet">{{ row.given }}: </span>{{ row.label }}
            </th>
            <td class="quiet">
              {{ ratioOf(row.unweighted) }} <small>{{ limitsOf(row.unweighted_ci) }}</small>
            </td>
            <td>
              <b>{{ ratioOf(row.odds_ratio) }}</b>{{ ' '
              }}<small class="quiet">{{ limitsOf(row.ci) }}</small>
            </td>
            <td>{{ pValue(row.p) }}</td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
}
.title {
  font-weight: 600;
}
.level {
  padding-left: 14px !important;
}
</style>
