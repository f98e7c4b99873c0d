<script setup lang="ts">
/** The variable that tells the sets in which people were matched, where a study may have some. */
import { computed, toRef } from 'vue'

import type { Problem } from '@/api/client'
import type { Entry } from '@/api/types'
import VariablePicker from '@/parts/VariablePicker.vue'
import { useAsking } from '../useAsking'
import SlotChip from './SlotChip.vue'
import { namesIn } from './terms'
import { useSlot } from './useSlots'

const props = defineProps<{ problem?: Problem }>()
const { question, codebook, dataset, titled, put } = useAsking()
const { chip, isRead, close } = useSlot('matched', toRef(props, 'problem'))
const chosen = computed(() => question.value.matched ?? undefined)
const isOffered = computed(
  () =>
    isRead.value && (dataset.value.study_design === 'case_control' || !!dataset.value.matched_on),
)

function refusal({ variable }: Entry): string | undefined {
  const taken = [question.value.outcome?.variable, ...namesIn(question.value)]
  return taken.includes(variable.name) ? 'already in the sentence' : undefined
}

function choose(name: string | null) {
  put({ matched: name })
  close()
}
</script>

<template>
  <template v-if="chosen">, matched within </template>
  <SlotChip
    v-if="chosen || isOffered"
    v-bind="chip"
    label="Matched within sets"
    :is-empty="!chosen"
    :is-add="!chosen"
  >
    {{ chosen ? titled(chosen) : '+ matched within' }}
    <template #picker>
      <VariablePicker
        :entries="codebook"
        :chosen="chosen"
        :refusal="refusal"
        label="Matched within sets told by"
        @choose="choose"
      />
    </template>
  </SlotChip>
  <button
    v-if="chosen"
    class="drop"
    :aria-label="`Without matching within ${titled(chosen)}`"
    @click="choose(null)"
  >
    ×
  </button>
</template>

<style scoped>
.drop {
  color: var(--quiet);
  font-size: 1rem;
  padding: 0 4px;
}
</style>
