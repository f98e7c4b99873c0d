<script setup lang="ts">
/** A condition on variables, in words, with the picker that changes it. */
import { computed, ref } from 'vue'

import type { DataSet, Entry, Study, Subset } from '@/api/types'
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
  <v-menu
    v-model="isOpen"
    :close-on-content-click="false"
    location="bottom start"
    :offset="6"
    :disabled="disabled"
  >
    <template #activator="{ props: opener }">
      <button
        v-bind="opener"
        type="button"
        class="rule"
        :class="{ empty: !given }"
        :aria-label="`${label}: ${text}`"
        aria-haspopup="dialog"
      >
        {{ text }}
      </button>
    </template>
    <section class="popover" role="dialog" :aria-label="label">
      <AmongPicker
        v-if="isOpen"
        :subset="given"
        :codebook="codebook"
        :study="study"
        :dataset="dataset"
        @change="emit('change', $event)"
        @close="isOpen = false"
      />
    </section>
  </v-menu>
</template>

<style scoped>
.rule {
  border-bottom: 2px solid var(--pine);
  padding: 0 2px;
  text-align: left;
}
.rule.empty {
  border-bottom-style: dashed;
  border-color: var(--quiet);
  color: var(--quiet);
}
.popover {
  width: fit-content;
}
</style>
