<script setup lang="ts">
/** A condition on variables, in words, with the picker that changes it. */
import { computed, ref } from 'vue'

import type { DataSet, Entry, Study, Subset } from '@/api/types'
import PopField from '@/parts/PopField.vue'
import AmongPicker from '@/parts/subset/AmongPicker.vue'
import { subsetInWords } from '@/parts/subset/words'
import { hasRule } from './recipes'

const props = defineProps<{
  rule: Subset | null | undefined
  label: string
  empty: string
  study: Study
  dataset: DataSet
  codebook: Entry[]
  disabled?: boolean
}>()
const emit = defineEmits<{ change: [rule: Subset | null] }>()
const isOpen = ref(false)
const given = computed(() => (hasRule(props.rule) ? props.rule! : null))
const text = computed(() =>
  given.value ? subsetInWords(given.value, props.codebook) : props.empty,
)
</script>

<template>
  <PopField v-model="isOpen" :label="label" :text="text" :is-empty="!given" :disabled="disabled">
    <AmongPicker
      :subset="given"
      :codebook="codebook"
      :study="study"
      :dataset="dataset"
      @change="emit('change', $event)"
      @close="isOpen = false"
    />
  </PopField>
</template>
