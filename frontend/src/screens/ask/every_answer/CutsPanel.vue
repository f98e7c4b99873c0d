<script setup lang="ts">
/** One odds ratio for all cuts beside those at every place where the answers can be cut in two. */
import type { Figures, Schemas } from '@/api/types'
import { count, freedom, limits, pEquals, ratio, statistic } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import { useAsking } from '../useAsking'

defineProps<{ found: Schemas['CutsPanel']; figures: Figures }>()
const { question, lensThatGives, put } = useAsking()

/** The outcome cut there, as a question about an event. */
function cut(event: readonly string[]) {
  const outcome = { ...question.value.outcome!, event: [...event] }
  put({ outcome, lens: lensThatGives('model') as never })
}
const dfs = ({ df, df2 }: Schemas['NamedTest']) =>
  [df, df2].flatMap((each) => (each == null ? [] : freedom(each))).join(', ')
</script>

<template>
  <p class="quiet">
    The model takes one odds ratio for all places where the answers can be cut in two. Here each cut
    has a model of its own. A small p means that they differ.
  </p>
  <ul v-if="found.tests.length" class="tests">
    <li v-for="each in found.tests" :key="each.title">
      {{ each.title }}: {{ each.test.name }}, {{ each.test.sign }}
      {{ statistic(each.test.statistic!) }}, df {{ dfs(each.test) }}, {{ pEquals(each.test.p) }}
    </li>
  </ul>
  <p v-if="found.no_test" class="quiet">{{ found.no_test }}</p>
  <div class="side">
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Odds ratio</th>
            <th scope="col">all cuts</th>
            <th v-for="each in found.cuts" :key="each.label" scope="col">
              <button
                class="act"
                :title="`Cut the outcome here: ${each.label} as the event`"
                @click="cut(each.event)"
              >
                {{ each.label }}</button><br /><small class="quiet">{{ count(each.events) }}</small>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in found.lines" :key="line.label">
            <th scope="row">{{ line.label }}</th>
            <td>
              <b>{{ ratio(line.common.odds_ratio) }}</b>
              <small class="quiet">{{ limits(line.common.ci) }}</small>
            </td>
            <td v-for="(each, i) in line.cuts" :key="i">
              <template v-if="each"
                >{{ ratio(each.odds_ratio) }}
                <small class="quiet">{{ limits(each.ci) }}</small></template
              >
              <small v-else class="quiet">not finite</small>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <FigureView
      v-if="figures.cuts"
      :spec="figures.cuts"
      label="Odds ratios of all cuts and at every cut, on a log scale"
      name="Odds ratios at every cut"
    />
  </div>
</template>

<style scoped>
.tests {
  padding-left: 18px;
  margin-bottom: 10px;
}
small {
  white-space: nowrap;
}
</style>
