<script setup lang="ts">
/** A variable of one data set, chosen by typing part of its name or label. */
import { computed, ref } from 'vue'

import type { Entry } from '@/api/types'
import { titleOf } from '@/parts/kinds'
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
  <v-menu v-model="isOpen" :close-on-content-click="false" :offset="6" :disabled="disabled">
    <template #activator="{ props: opener }">
      <button
        v-bind="opener"
        type="button"
        class="field"
        :class="{ empty: !chosen }"
        :aria-label="`${label}: ${text}`"
        aria-haspopup="dialog"
      >
        {{ text }}
      </button>
    </template>
    <section class="popover" role="dialog" :aria-label="label">
      <VariablePicker
        v-if="isOpen"
        :entries="entries"
        :chosen="chosen ?? undefined"
        :label="label"
        :refusal="refusal"
        @choose="choose"
      />
      <p v-if="clearable && chosen" class="foot">
        <button class="act" @click="choose(null)">None</button>
      </p>
    </section>
  </v-menu>
</template>

<style scoped>
.field {
  border-bottom: 2px solid var(--pine);
  padding: 0 2px;
  text-align: left;
}
.field.empty {
  border-bottom-style: dashed;
  border-color: var(--quiet);
  color: var(--quiet);
}
.popover {
  width: fit-content;
}
.foot {
  padding: 8px 14px 12px;
  border-top: 1px solid var(--hairline);
}
</style>
