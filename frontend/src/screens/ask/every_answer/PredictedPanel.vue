<script setup lang="ts">
/** Predicted shares of every answer: with everybody in one category, and for somebody like this. */
import { computed } from 'vue'

import type { Figures, Schemas } from '@/api/types'
import { limits, percent, points } from '@/design/numbers'
import FigureView from '@/parts/FigureView.vue'
import ProfileFields, { type Profile } from '../answer/ProfileFields.vue'
import { useOptions } from '../useAsking'

const props = defineProps<{ found: Schemas['PredictedPanel']; figures: Figures }>()
const { options, set } = useOptions('every_answer')
const profiles = computed(() => options.value.profiles as Profile[])
const answersOf = (i: number) => props.found.profiles[i]?.answers ?? []
</script>

<template>
  <section v-for="variable in found.variables" :key="variable.variable" class="standardised">
    <p class="quiet">
      With everybody set to one category of {{ variable.title }} after the other, all else as it is.
      That does not show that changing it would change the answers.
    </p>
    <FigureView
      v-if="figures[`shares:${variable.variable}`]"
      :spec="figures[`shares:${variable.variable}`]!"
      :label="`Predicted shares of the answers by ${variable.title}`"
      :name="`Predicted shares by ${variable.title}`"
    />
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">{{ variable.title }}</th>
            <th v-for="label in found.labels" :key="label" scope="col">{{ label }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="level in variable.levels" :key="level.value">
            <th scope="row">{{ level.label }}</th>
            <td v-for="(each, i) in level.answers" :key="i">
              {{ percent(each.share) }}
              <small class="quiet">{{ limits(each.ci, points) }}</small>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
  <h3 class="overline">Somebody like this</h3>
  <ProfileFields :slots="found.slots" :profiles="profiles" @change="set({ profiles: $event })">
    <tr v-for="(label, at) in found.labels" :key="label">
      <th scope="row">{{ label }}</th>
      <td v-for="(_, i) in profiles" :key="i">
        <template v-if="answersOf(i)[at]">
          <b>{{ percent(answersOf(i)[at]!.share) }}</b><br /><small class="quiet">{{
            limits(answersOf(i)[at]!.ci, points)
          }}</small>
        </template>
      </td>
    </tr>
  </ProfileFields>
  <FigureView
    v-if="figures.profiles"
    :spec="figures.profiles"
    label="Predicted shares of the answers for each profile"
    name="Predicted shares of profiles"
  />
</template>

<style scoped>
.standardised {
  margin-bottom: 14px;
}
</style>
