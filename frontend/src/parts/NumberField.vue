<script setup lang="ts">
/** A number that is taken when it makes sense; otherwise what is wrong stands beside it. */
import { ref, watch } from 'vue'

import { short } from '@/design/numbers'
import { numberIn } from './typed'

const props = defineProps<{ value: number; label: string; from: number; to: number }>()
const emit = defineEmits<{ change: [value: number] }>()

const text = ref(String(props.value))
const error = ref('')
// The field tells of a change twice: by itself, and as it passes through its frame.
let taken = props.value
watch(
  () => props.value,
  (value) => {
    text.value = String(value)
    taken = value
    error.value = ''
  },
)

function take() {
  const value = numberIn(text.value)
  const isFine = value !== null && value >= props.from && value <= props.to
  error.value = isFine ? '' : `From ${short(props.from, 6)} to ${short(props.to, 6)}`
  if (!isFine || value === taken) return
  taken = value
  emit('change', value)
}
</script>

<template>
  <v-text-field
    v-model="text"
    inputmode="decimal"
    :label="label"
    :error-messages="error"
    @change="take"
    @keydown.enter="take"
  />
</template>
