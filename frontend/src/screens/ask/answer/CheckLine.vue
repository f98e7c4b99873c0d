<script setup lang="ts">
/** One check, and what mends it: another question, a place in the codebook, or a part to open. */
import type { Check } from '@/api/types'
import StatusSign from '@/parts/StatusSign.vue'
import { useAsking } from '../useAsking'

defineProps<{ check: Check }>()

const { change, dataset, panels, study } = useAsking()
const words = { ok: 'Holds', care: 'Take care', fail: 'Does not hold' }

function show(panel: string) {
  panels.value.add(panel)
  setTimeout(() => {
    document.querySelector(`[data-panel="${panel}"]`)?.scrollIntoView({ block: 'start' })
  }, 50)
}
</script>

<template>
  <li class="check">
    <StatusSign :status="check.status" :words="words" />
    <div>
      {{ check.text }}
      <template v-for="remedy in check.remedies" :key="remedy.label">
        <button v-if="remedy.question" class="act remedy" @click="change(remedy.question)">
          {{ remedy.label }}
        </button>
        <button v-else-if="remedy.panel" class="act remedy" @click="show(remedy.panel)">
          {{ remedy.label }}
        </button>
        <router-link
          v-else-if="remedy.data"
          class="act remedy"
          :to="{
            name: 'bring',
            params: { study: study.id },
            query: { way: 'one_per_case', from: dataset.id },
          }"
          >{{ remedy.label }}</router-link
        >
        <router-link
          v-else-if="remedy.codebook_variable"
          class="act remedy"
          :to="{
            name: 'codebook',
            params: { study: study.id, dataset: dataset.id },
            query: { variable: remedy.codebook_variable },
          }"
          >{{ remedy.label }}</router-link
        >
      </template>
    </div>
  </li>
</template>

<style scoped>
.check {
  display: flex;
  gap: 9px;
  margin-bottom: 9px;
}
.remedy {
  display: block;
  margin-top: 2px;
}
</style>
