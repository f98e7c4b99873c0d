<script setup lang="ts">
/** A variable of one data set, chosen by typing part of its name or label. */
import { computed, ref } from 'vue'

import type { Entry } from '@/api/types'
import { titleOf } from '@/parts/kinds'
import PopField from '@/parts/PopField.vue'
import VariablePicker from '@/parts/VariablePicker.vue'

const props = defineProps<{
  entries: Entry[]
  chosen?: string | null
  label: string
  empty: string
  refusal?: (entry: Entry) => string | undefined
  disabled?: boolean
  clearable?: boolean
}>()
const emit = defineEmits<{ choose: [name: string | null] }>()
const isOpen = ref(false)
const entry = computed(() => props.entries.find(({ variable }) => variable.name === props.chosen))

const text = computed(() =>
  entry.value ? titleOf(entry.value.variable) : props.chosen || props.empty,
)

function choose(name: string | null) {
  isOpen.value = false
  emit('choose', name)
}
</script>

<template>
  <PopField v-model="isOpen" :label="label" :text="text" :is-empty="!chosen" :disabled="disabled">
    <VariablePicker
      :entries="entries"
      :chosen="chosen ?? undefined"
      :label="label"
      :refusal="refusal"
      @choose="choose"
    />
    <p v-if="clearable && chosen" class="foot">
      <button class="act" @click="choose(null)">None</button>
    </p>
  </PopField>
</template>

<style scoped>
.foot {
  padding: 8px 14px 12px;
  border-top: 1px solid var(--hairline);
}
</style>
