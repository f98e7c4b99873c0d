<script setup lang="ts">
/** Pairs by who of them has the exposure: those that differ make the odds ratio. */
import type { Schemas } from '@/api/types'
import { count, limits, pEquals, ratio, statistic } from '@/design/numbers'

defineProps<{ pairs: Schemas['Pairs']; event: string }>()
</script>

<template>
  <section aria-label="Pairs">
    <h3 class="overline">Pairs: {{ pairs.exposed }}</h3>
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">With the event ({{ event }})</th>
            <th scope="col">the other has it</th>
            <th scope="col">the other has it not</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">has it</th>
            <td class="quiet">{{ count(pairs.both) }}</td>
            <td>
              <b>{{ count(pairs.only_event) }}</b>
            </td>
          </tr>
          <tr>
            <th scope="row">has it not</th>
            <td>
              <b>{{ count(pairs.only_other) }}</b>
            </td>
            <td class="quiet">{{ count(pairs.neither) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p>
      <template v-if="pairs.odds_ratio !== null"
        >{{ count(pairs.only_event) }} / {{ count(pairs.only_other) }} =
        {{ ratio(pairs.odds_ratio) }} ({{ limits(pairs.ci) }}).
      </template>
      McNemar’s test<template v-if="pairs.mcnemar">
        χ² {{ statistic(pairs.mcnemar.statistic) }}, df 1, {{ pEquals(pairs.mcnemar.p) }};</template
      >
      exact {{ pEquals(pairs.exact_p) }}.
    </p>
  </section>
</template>

<style scoped>
section {
  margin-top: 10px;
}
</style>
