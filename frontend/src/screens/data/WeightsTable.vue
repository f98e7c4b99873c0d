<script setup lang="ts">
/** Weights before and after: how unequal they are, and the shares they give. */
import type { components } from '@/api/schema'
import { count, percent, plural, short, two } from '@/design/numbers'

type Look = components['schemas']['WeightsLook']

defineProps<{ look: Look; noun: { one: string; many: string } }>()
</script>

<template>
  <div>
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Weights</th>
          <th scope="col">n</th>
          <th scope="col">sum</th>
          <th scope="col">least to most</th>
          <th scope="col" title="What unequal weights alone cost (Kish)">factor</th>
          <th scope="col">as if n were</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="which in ['before', 'after'] as const" :key="which">
          <th scope="row">{{ which }}</th>
          <td>{{ count(look[which].n) }}</td>
          <td>{{ count(look[which].total) }}</td>
          <td>{{ short(look[which].least, 3) }} to {{ short(look[which].most, 3) }}</td>
          <td>{{ two(look[which].effect) }}</td>
          <td>{{ count(look[which].effective) }}</td>
        </tr>
      </tbody>
    </table>
    <table v-for="margin in look.margins" :key="margin.variable" class="plain margin">
      <thead>
        <tr>
          <th scope="col">{{ margin.title }}</th>
          <th scope="col">n</th>
          <th scope="col">before</th>
          <th scope="col">known</th>
          <th scope="col">after</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in margin.rows" :key="row.value">
          <th scope="row">{{ row.label }}</th>
          <td>{{ count(row.n) }}</td>
          <td>{{ percent(row.before) }}</td>
          <td>{{ percent(row.asked) }}</td>
          <td>
            <b>{{ percent(row.after) }}</b>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="quiet">
      <template v-if="look.rounds"
        >Every total is met after {{ plural(look.rounds, 'round', 'rounds') }}.
      </template>
      <template v-if="look.left_out"
        >{{ plural(look.left_out, noun.one, noun.many) }} without an answer to all of these get no
        weight.
      </template>
      {{ look.assumption }}
    </p>
  </div>
</template>

<style scoped>
.margin {
  margin-top: 10px;
}
p {
  margin-top: 8px;
}
</style>
