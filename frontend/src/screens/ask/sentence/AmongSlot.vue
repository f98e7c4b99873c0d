<script setup lang="ts">
/** Whom the question is about. */
import { computed, toRef } from 'vue'

import type { Problem } from '@/api/client'
import { useAsking } from '../useAsking'
import { subsetInWords } from '@/parts/subset/words'
import AmongPicker from '@/parts/subset/AmongPicker.vue'
import SlotChip from './SlotChip.vue'
import { useSlot } from './useSlots'

const props = defineProps<{ problem?: Problem }>()
const { question, codebook, dataset, study, put } = useAsking()
const { chip, close } = useSlot('among', toRef(props, 'problem'))
const words = computed(() =>
  question.value.among ? subsetInWords(question.value.among, codebook.value) : '',
)
</script>

<template>
  <SlotChip v-bind="chip" label="Among" :is-empty="!words">
    {{ words || `every ${dataset.noun_one}` }}
    <template #picker>
      <AmongPicker
        :subset="question.among"
        :codebook="codebook"
        :study="study"
        :dataset="dataset"
        @change="put({ among: $event })"
        @close="close()"
      />
    </template>
  </SlotChip>
</template>
