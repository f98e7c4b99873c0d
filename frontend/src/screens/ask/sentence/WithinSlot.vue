<script setup lang="ts">
/** The variables whose groups are looked at one by one. */
import { computed, toRef } from 'vue'

import type { Problem } from '@/api/client'
import { useAsking } from '../useAsking'
import SlotChip from './SlotChip.vue'
import { namesIn } from './terms'
import { useSlot } from './useSlots'
import WithinPicker from './WithinPicker.vue'

const props = defineProps<{ problem?: Problem }>()
const { question, codebook, titlesOf, put } = useAsking()
const { chip, close } = useSlot('within', toRef(props, 'problem'))
const words = computed(() => titlesOf(question.value.within))
const taken = computed(() => {
  const outcome = question.value.outcome
  return [...(outcome ? [outcome.variable] : []), ...namesIn(question.value)]
})
</script>

<template>
  <template v-if="words">, within each </template>
  <SlotChip v-bind="chip" label="Within each" :is-empty="!words" :is-add="!words">
    {{ words || '+ within each' }}
    <template #picker>
      <WithinPicker
        :codebook="codebook"
        :within="question.within"
        :taken="taken"
        @change="put({ within: $event })"
        @close="close()"
      />
    </template>
  </SlotChip>
</template>
