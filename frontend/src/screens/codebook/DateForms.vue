<script setup lang="ts">
/** How dates are written, to be said where the data cannot tell. */
import type { Variable } from '@/api/types'

type Form = NonNullable<Variable['date_form']>

defineProps<{ form: Form; mayChange: boolean }>()
const emit = defineEmits<{ choose: [form: Form] }>()

const forms: Record<Form, string> = {
  ymd: 'year-month-day',
  dmy: 'day/month/year',
  mdy: 'month/day/year',
}
</script>

<template>
  <p class="choices" role="radiogroup" aria-label="How dates are written">
    <button
      v-for="(words, each) in forms"
      :key="each"
      class="act"
      role="radio"
      :aria-checked="each === form"
      :aria-pressed="each === form"
      :disabled="!mayChange"
      @click="each === form || emit('choose', each)"
    >
      {{ words }}
    </button>
  </p>
</template>
