<script setup lang="ts">
/** The frame of every editor that makes a variable: name, label, what is wrong, done or not. */
import { ref } from 'vue'

import ErrorNote from '@/parts/ErrorNote.vue'

defineProps<{ action: string; problem?: string }>()
defineEmits<{ make: []; close: [] }>()
const name = defineModel<string>('name', { required: true })
const label = defineModel<string>('label', { required: true })
/** Before anything is typed, what is missing is no error yet. */
const isTyped = ref(false)
</script>

<template>
  <form class="make" @submit.prevent="$emit('make')" @input="isTyped = true">
    <slot />
    <div class="names">
      <label
        ><span class="quiet">Name</span><input v-model="name" maxlength="100" required
      /></label>
      <label><span class="quiet">Label</span><input v-model="label" maxlength="300" /></label>
    </div>
    <ErrorNote v-if="isTyped" :error="problem" />
    <p v-else-if="problem" class="quiet">{{ problem }}</p>
    <p class="foot">
      <button type="submit" class="act" :disabled="!!problem || !name.trim()">{{ action }}</button>
      <button type="button" class="act" @click="$emit('close')">Close</button>
    </p>
  </form>
</template>

<style scoped>
.make {
  display: grid;
  gap: 10px;
  padding: 10px 0 6px;
  border-top: 1px solid var(--hairline);
}
.names {
  display: grid;
  grid-template-columns: 1fr 1.4fr;
  gap: 12px;
}
.names label {
  display: grid;
}
.names input {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  padding: 3px 2px;
  min-width: 0;
}
.names input:focus {
  outline: none;
  border-color: var(--pine);
}
.foot {
  display: flex;
  gap: 20px;
}
</style>
