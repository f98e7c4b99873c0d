<script setup lang="ts">
/** Ratios of shares as the model's own, by a log link: robust errors, and the binomial likelihood. */
import type { Figures, Schemas } from '@/api/types'
import { limits, pValue, ratio } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'

defineProps<{ found: Schemas['LogLinkPanel']; figures: Figures }>()
</script>

<template>
  <p v-if="found.no_estimate" class="quiet">There is no estimate: {{ found.no_estimate }}.</p>
  <template v-else>
    <p class="quiet">
      How many times as common the event is, with all else the same, as one ratio for each line.
      Robust errors are right though the outcome is yes or no.
      <template v-if="found.no_binomial">
        By the binomial likelihood there is none: {{ found.no_binomial }}.</template
      >
    </p>
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Times as common</th>
            <th scope="col">Poisson, robust errors</th>
            <th scope="col">p</th>
            <th v-if="!found.no_binomial" scope="col">binomial</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in found.rows" :key="`${row.term} ${row.given} ${row.label}`">
            <th scope="row">{{ row.given ?? row.title }}: {{ row.label }}</th>
            <td>
              <b>{{ ratio(row.robust.ratio) }}</b>
              <small class="quiet">{{ limits(row.robust.ci) }}</small>
            </td>
            <td>{{ pValue(row.robust.p) }}</td>
            <td v-if="!found.no_binomial">
              {{ ratio(row.binomial?.ratio) }}
              <small class="quiet">{{ limits(row.binomial?.ci) }}</small>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <FigureView
      v-if="figures.log_link"
      :spec="figures.log_link"
      label="Ratios of shares by a log link with intervals, on a log scale"
      name="Ratios of shares by a log link"
    />
  </template>
</template>
