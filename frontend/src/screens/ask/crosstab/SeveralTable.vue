<script setup lang="ts">
/** Several explanatory variables with the outcome, a line each; each opens its own table. */
import type { Schemas } from '@/api/types'
import { count, freedom, limits, pValue, statistic, two } from '@/design/numbers'
import { useAsking } from '../useAsking'
import { withFirst } from '../words'

type Line = Schemas['Several']
defineProps<{ lines: readonly Line[] }>()

const { question, titles, change } = useAsking()
const dfs = ({ df, df2 }: Schemas['NamedTest']) =>
  [df, df2].flatMap((each) => (each == null ? [] : freedom(each))).join(', ')

function lead(variable: string) {
  const next = withFirst(question.value, variable)
  if (next !== question.value) change(next)
}
</script>

<template>
  <section class="several" :aria-label="`${titles.columns} with each variable`">
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">{{ titles.columns }} with</th>
            <th scope="col">n</th>
            <th scope="col" :title="lines.find(({ test }) => test)?.test?.name">
              {{ lines.find(({ test }) => test)?.test?.sign ?? '' }}
            </th>
            <th scope="col">df</th>
            <th scope="col">p</th>
            <th scope="col" title="Holm: all of these tests are allowed for">p, all allowed for</th>
            <th scope="col">V</th>
            <th scope="col">interval</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(each, i) in lines" :key="each.variable" :class="{ shown: i === 0 }">
            <th scope="row">
              <button
                class="act"
                :aria-current="i === 0 ? 'true' : undefined"
                @click="lead(each.variable)"
              >
                {{ each.title }}
              </button>
            </th>
            <td>{{ count(each.n) }}</td>
            <template v-if="each.test">
              <td>{{ each.test.statistic === null ? '' : statistic(each.test.statistic) }}</td>
              <td>{{ dfs(each.test) }}</td>
              <td>{{ pValue(each.test.p) }}</td>
              <td>{{ pValue(each.p_holm) }}</td>
              <td>{{ two(each.cramers_v) }}</td>
              <td class="quiet">{{ limits(each.cramers_v_ci, two) }}</td>
            </template>
            <td v-else colspan="6" class="left quiet">
              {{ each.left_out ?? 'without a test: no degree of freedom is left' }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="quiet">The table below is the first one’s.</p>
  </section>
</template>

<style scoped>
.several {
  margin-bottom: 14px;
}
.shown th {
  font-weight: 600;
}
</style>
