<script setup lang="ts">
/** The same people twice: shares before and after, who changed to what, and how far both agree. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import { count, limits, percent, pEquals, points, pValue, statistic, two } from '@/design/numbers'
import { useAsking } from '../useAsking'

const props = defineProps<{ found: Schemas['TwicePanel'] }>()
const { titles } = useAsking()

const kinds = {
  unweighted: 'the same answer or not',
  linear: 'nearer answers agree more (linear)',
  quadratic: 'nearer answers agree more (quadratic)',
}
/** Of all who went between two answers, the share that went one way, for the bar. */
const share = ({ there, back }: Schemas['Moved']) => (100 * there) / (there + back)
const most = computed(() =>
  Math.max(...props.found.moved.map(({ there, back }) => there + back), 1),
)
</script>

<template>
  <p>
    From {{ titles.rows }} to {{ titles.columns }}: <b>{{ count(found.same) }}</b> of
    {{ count(found.n) }} ({{ percent(found.same / found.n) }}) said the same again.
  </p>
  <table class="plain">
    <caption class="quiet">
      Shares of each answer; limits of the change are Newcombe’s
    </caption>
    <thead>
      <tr>
        <th scope="col">Answer</th>
        <th scope="col">first</th>
        <th scope="col">then</th>
        <th scope="col">change, points</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="answer in found.answers" :key="answer.label">
        <th scope="row">{{ answer.label }}</th>
        <td>{{ percent(answer.first) }}</td>
        <td>{{ percent(answer.second) }}</td>
        <td>
          <b>{{ points(answer.change) }}</b> <small>{{ limits(answer.ci, points) }}</small>
        </td>
      </tr>
    </tbody>
  </table>
  <p v-if="found.mcnemar">
    McNemar’s exact test {{ pEquals(found.mcnemar.exact_p)
    }}<template v-if="found.mcnemar.mid_p !== null"
      >, mid-p {{ pValue(found.mcnemar.mid_p) }}</template
    ><template v-if="found.change_odds"
      >. For each who lost the event, {{ two(found.change_odds.estimate) }} came to have it ({{
        limits(found.change_odds.ci, two)
      }})</template
    >.
  </p>
  <p v-else-if="found.homogeneity">
    Answers as common the second time as the first: Stuart–Maxwell χ²
    {{ statistic(found.homogeneity.statistic) }}, df {{ found.homogeneity.df }},
    {{ pEquals(found.homogeneity.p)
    }}<template v-if="found.homogeneity_bhapkar"
      >; Bhapkar {{ statistic(found.homogeneity_bhapkar.statistic) }},
      {{ pEquals(found.homogeneity_bhapkar.p) }}</template
    ><template v-if="found.symmetry"
      >. As many there as back between every two answers (symmetry): χ²
      {{ statistic(found.symmetry.statistic) }}, df {{ found.symmetry.df }},
      {{ pEquals(found.symmetry.p) }}</template
    >.
  </p>
  <p v-else>Nobody changed.</p>
  <ul v-if="found.moved.length" class="moved" aria-label="Who changed to what">
    <li v-for="each in found.moved" :key="`${each.one}/${each.other}`">
      <span
        >{{ each.one }} → {{ each.other }} <b>{{ count(each.there) }}</b></span
      >
      <span
        class="bar"
        aria-hidden="true"
        :style="{ width: `${(160 * (each.there + each.back)) / most}px` }"
        ><i :style="{ width: `${share(each)}%` }"
      /></span>
      <span
        ><b>{{ count(each.back) }}</b> {{ each.other }} → {{ each.one }}</span
      >
    </li>
  </ul>
  <p v-for="each in found.agreement" :key="each.weights">
    Agreement, {{ kinds[each.weights] }}: kappa <b>{{ two(each.estimate) }}</b> ({{
      limits(each.ci, two)
    }})<template v-if="each.weights === 'unweighted' && found.greatest !== null"
      >; with these shares it could be {{ two(found.greatest) }} at most</template
    >.
  </p>
  <p v-if="!found.agreement.length" class="quiet">
    All gave one answer both times, so nothing tells how far the two agree beyond chance.
  </p>
</template>

<style scoped>
table {
  margin: 8px 0;
}
caption {
  text-align: left;
}
.moved {
  list-style: none;
  margin: 8px 0;
  padding: 0;
  display: grid;
  gap: 3px;
}
.moved li {
  display: grid;
  grid-template-columns: minmax(120px, 1fr) 160px minmax(120px, 1fr);
  gap: 12px;
  align-items: center;
}
.moved li > :first-child {
  text-align: right;
}
.bar {
  display: block;
  height: 12px;
  justify-self: center;
  background: var(--plum-soft, var(--hairline));
  border-radius: 2px;
  overflow: hidden;
}
.bar i {
  display: block;
  height: 100%;
  background: var(--pine);
}
</style>
