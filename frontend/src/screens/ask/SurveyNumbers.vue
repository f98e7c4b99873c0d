<script setup lang="ts">
/** A number in the weighted sample: mean, spread and quartiles, the unweighted mean beside. */
import type { Survey } from '@/api/types'
import { count, oneDecimal } from '@/design/numbers'
import { limitsOf } from './shareWords'

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
          <b>{{ oneDecimal(mean.estimate) }}</b>
          <small class="quiet">{{ ' ' }}{{ limitsOf(mean.ci, 1, 1) }}</small>
        </td>
        <td>{{ oneDecimal(mean.sd) }}</td>
        <td>{{ oneDecimal(mean.q1) }}, {{ oneDecimal(mean.median) }}, {{ oneDecimal(mean.q3) }}</td>
        <td>{{ oneDecimal(mean.min) }} to {{ oneDecimal(mean.max) }}</td>
        <td>{{ mean.deff === null ? '—' : mean.deff.toFixed(2) }}</td>
      </tr>
      <tr class="quiet">
        <th scope="row">unweighted</th>
        <td></td>
        <td>{{ oneDecimal(mean.unweighted) }}</td>
        <td>{{ mean.unweighted_sd === null ? '' : oneDecimal(mean.unweighted_sd) }}</td>
        <td></td>
        <td></td>
        <td></td>
      </tr>
    </tbody>
  </table>
</template>
