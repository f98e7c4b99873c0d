<script setup lang="ts">
/** Choose the variables whose groups are looked at one by one. */
import { computed } from 'vue'

import type { Entry } from '@/api/types'
import { isCategorical, titleOf } from '@/parts/kinds'
import VariablePicker from '@/parts/VariablePicker.vue'
import { entryOf } from '@/parts/subset/words'

const props = defineProps<{ codebook: Entry[]; within: readonly string[]; taken: string[] }>()
const emit = defineEmits<{ change: [within: string[]]; close: [] }>()

const chosen = computed(() =>
  props.within.map((name) => {
    const entry = entryOf(props.codebook, name)
    return { name, title: entry ? titleOf(entry.variable) : name }
  }),
)

function refusal(entry: Entry): string | undefined {
  if (props.taken.includes(entry.variable.name)) return 'already in the sentence'
  if (props.within.includes(entry.variable.name)) return 'chosen'
  return isCategorical(entry.variable) ? undefined : 'not in categories: band it in the Codebook'
}
</script>

<template>
  <ul v-if="chosen.length" class="chosen" aria-label="Chosen">
    <li v-for="each in chosen" :key="each.name">
      {{ each.title }}
      <button
        class="act"
        :aria-label="`Without ${each.title}`"
        @click="
          emit(
            'change',
            props.within.filter((name) => name !== each.name),
          )
        "
      >
        leave out
      </button>
    </li>
  </ul>
  <VariablePicker
    :entries="codebook"
    :refusal="refusal"
    label="Within each"
    @choose="(emit('change', [...within, $event]), emit('close'))"
  />
</template>

<style scoped>
.chosen {
  list-style: none;
  margin: 0;
  padding: 10px 14px 4px;
}
.chosen li {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  padding: 2px 0;
}
</style>
