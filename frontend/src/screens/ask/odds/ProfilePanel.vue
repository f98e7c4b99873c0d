<script setup lang="ts">
/** Try a profile: set values, see the predicted probability; several side by side, and a curve. */
import { computed } from 'vue'

import type { Figures, Schemas } from '@/api/types'
import { limits, percent, points } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import ProfileFields, { type Profile } from '../answer/ProfileFields.vue'
import { useOptions, useResults } from '../useAsking'

const props = defineProps<{ found: Schemas['ProfilePanel']; figures: Figures }>()

const results = useResults<Schemas['OddsResults']>()
const { options, set: setOptions } = useOptions('odds')
const profiles = computed(() => options.value.profiles as Profile[])
const numeric = computed(() => props.found.slots.filter(({ categories }) => !categories.length))
const categorical = computed(() => props.found.slots.filter(({ categories }) => categories.length))
const predictionOf = (i: number) => props.found.predictions[i]
</script>

<template>
  <ProfileFields
    :slots="found.slots"
    :profiles="profiles"
    @change="setOptions({ profiles: $event })"
  >
    <tr>
      <th scope="row">probability of {{ results.event_label }}</th>
      <td v-for="(_, i) in profiles" :key="i">
        <template v-if="predictionOf(i)">
          <b>{{ percent(predictionOf(i)!.probability) }}</b><br /><small class="quiet">{{
            limits(predictionOf(i)!.ci, points)
          }}</small>
        </template>
      </td>
    </tr>
  </ProfileFields>
  <template v-if="figures.curve && found.curve">
    <p class="choices axes">
      <label
        >Probability across
        <select
          class="line"
          :value="found.curve.across"
          @change="setOptions({ curve: ($event.target as HTMLSelectElement).value })"
        >
          <option v-for="slot in numeric" :key="slot.variable" :value="slot.variable">
            {{ slot.title }}
          </option>
        </select></label
      >
      <label v-if="categorical.length"
        >a line for each
        <select
          class="line"
          :value="found.curve.by ?? ''"
          @change="setOptions({ curve_by: ($event.target as HTMLSelectElement).value })"
        >
          <option value="">(one line)</option>
          <option v-for="slot in categorical" :key="slot.variable" :value="slot.variable">
            {{ slot.title }}
          </option>
        </select></label
      >
    </p>
    <FigureView
      :spec="figures.curve"
      :label="`Predicted probability across ${found.curve.across_title}, with bands`"
      name="Predicted probability"
    />
    <p class="quiet">Everything else is at its reference, numbers at their median.</p>
  </template>
</template>

<style scoped>
select {
  max-width: 150px;
}
.axes {
  margin: 10px 0;
}
</style>
