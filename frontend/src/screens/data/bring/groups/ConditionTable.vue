<script setup lang="ts">
/** Cases by group and answer of one explanatory variable, before anything is modelled. */
import type { Schemas } from '@/api/types'
import { count } from '@/design/numbers'
import FindingList from '../FindingList.vue'

defineProps<{
  condition: Schemas['ConditionLook']
  groups: readonly Schemas['GroupLook'][]
  mayChange: boolean
}>()
const emit = defineEmits<{ remove: [] }>()
</script>

<template>
  <div class="condition">
    <div class="scroll">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">
              {{ condition.title }}
              <button
                v-if="mayChange"
                class="quiet"
                :aria-label="`Without ${condition.title}`"
                @click="emit('remove')"
              >
                ×
              </button>
            </th>
            <th v-for="group in groups" :key="group.name" scope="col">{{ group.name }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(answer, i) in condition.answers" :key="answer">
            <th scope="row">{{ answer }}</th>
            <td
              v-for="(row, k) in condition.counts"
              :key="k"
              :class="{ few: condition.few[k]![i] }"
            >
              {{ count(row[i]!) }}
            </td>
          </tr>
          <tr v-if="condition.missing.some((n) => n > 0)" class="quiet">
            <th scope="row">no answer</th>
            <td v-for="(n, k) in condition.missing" :key="k">{{ count(n) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <FindingList :findings="condition.findings" />
  </div>
</template>

<style scoped>
.condition {
  display: grid;
  gap: 8px;
  align-content: start;
  margin-top: 10px;
  max-width: 420px;
}
.few {
  color: var(--care);
  background: var(--care-soft);
  font-weight: 600;
}
</style>
