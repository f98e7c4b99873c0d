<script setup lang="ts">
/** Checks: those that ask for care stand open, those that hold are folded into one line. */
import { computed } from 'vue'

import type { Check } from '@/api/types'
import { plural } from '@/design/numbers'
import { useAsking } from '../useAsking'
import CheckLine from './CheckLine.vue'

const props = defineProps<{ checks: readonly Check[] }>()
const { answer } = useAsking()

const open = computed(() => props.checks.filter(({ status }) => status !== 'ok'))
const passed = computed(() => props.checks.filter(({ status }) => status === 'ok'))
</script>

<template>
  <ul class="checks">
    <CheckLine v-for="check in open" :key="check.id + check.text" :check="check" />
  </ul>
  <details v-if="passed.length" :key="answer.lens" class="passed">
    <summary>
      <span class="sign" aria-hidden="true">✓</span>
      <span class="act">{{ plural(passed.length, 'check holds', 'checks hold') }}</span>
    </summary>
    <ul class="checks">
      <CheckLine v-for="check in passed" :key="check.id + check.text" :check="check" />
    </ul>
  </details>
</template>

<style scoped>
.checks {
  list-style: none;
  margin: 0;
  padding: 0;
}
summary {
  display: flex;
  gap: 9px;
  cursor: pointer;
  list-style: none;
}
.sign {
  flex: none;
  width: 18px;
  text-align: center;
  color: var(--pine);
  font-weight: 700;
}
.passed .checks {
  margin-top: 9px;
}
</style>
