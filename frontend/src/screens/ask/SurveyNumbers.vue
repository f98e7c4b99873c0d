<script setup lang="ts">
/** A number in the weighted sample: mean, spread and quartiles, the unweighted mean beside. */
import type { Survey } from '@/api/types'
import { count, short } from '@/design/numbers'

defineProps<{ mean: NonNullable<Survey['mean']> }>()
</script>

<template>
  <table class="plain">
    <thead>
      <tr>
        <th scope="col"></th>
        <th scope="col">n, unweighted</th>
        <th scope="col">mean</th>
        <th scope="col">standard deviation</th>
        <th scope="col">quartiles</th>
        <th scope="col">least to most</th>
        <th scope="col" title="Variance of the mean against a simple random sample">
          design effect
        </th>
      </tr>
    </thead>
    <tbody>
      <tr>
        <th scope="row">weighted</th>
        <td>{{ count(mean.n) }}</td>
        <td>
          <b>{{ short(mean.estimate) }}</b>
          <small class="quiet"
            >{{ ' ' }}{{ mean.ci ? `${short(mean.ci[0])} to ${short(mean.ci[1])}` : '' }}</small
          >
        </td>
        <td>{{ short(mean.sd) }}</td>
        <td>{{ short(mean.q1) }}, {{ short(mean.median) }}, {{ short(mean.q3) }}</td>
        <td>{{ short(mean.min) }} to {{ short(mean.max) }}</td>
        <td>{{ mean.deff === null ? '—' : mean.deff.toFixed(2) }}</td>
      </tr>
      <tr class="quiet">
        <th scope="row">unweighted</th>
        <td></td>
        <td>{{ short(mean.unweighted) }}</td>
        <td>{{ mean.unweighted_sd === null ? '' : short(mean.unweighted_sd) }}</td>
        <td></td>
        <td></td>
        <td></td>
      </tr>
    </tbody>
  </table>
</template>
