<script setup lang="ts">
/** The variables of one slot after the first: each a chip that opens how it enters, and one to add. */
import { computed, ref, toRef } from 'vue'

import type { Problem } from '@/api/client'
import type { Entry } from '@/api/types'
import VariablePicker from '@/parts/VariablePicker.vue'
import { useAsking } from '../useAsking'
import SlotChip from './SlotChip.vue'
import TermDetails from './TermDetails.vue'
import { changedTerm, namesIn, together, wayOf, withoutTerm, type TermSlot } from './terms'
import { useSlot } from './useSlots'

const props = defineProps<{
  slotName: TermSlot
  /** Terms before this one stand elsewhere in the sentence. */
  from: number
  addLabel: string
  addWords: string
  refusal: (entry: Entry) => string | undefined
  problem?: Problem
}>()

const { question, codebook, entryOf, titled, lens, change } = useAsking()
const { chip, isRead, close } = useSlot(props.slotName, toRef(props, 'problem'))
const opened = ref<number>()
// The first of the variables of interest opens by its own slot.
const isAdding = ref(false)
const add = computed(() =>
  props.from
    ? {
        ...chip.value,
        isOpen: isAdding.value,
        onToggle: (isNow: boolean) => (isAdding.value = isNow),
      }
    : chip.value,
)
const isModel = computed(() => lens.value?.gives === 'model')
const terms = computed(() =>
  question.value[props.slotName].slice(props.from).map((term, i) => {
    const entry = entryOf(term.variable)
    return {
      term,
      entry,
      at: i + props.from,
      title: term.with
        ? `${titled(term.variable)} with ${titled(term.with)}`
        : titled(term.variable),
      way: isModel.value ? wayOf(term, entry) : '',
    }
  }),
)

const others = (name: string) =>
  namesIn(question.value)
    .filter((other) => other !== name)
    .map((other) => ({ name: other, title: titled(other) }))

function put(variable: string) {
  const terms = [...question.value[props.slotName], { variable }]
  change({ ...question.value, [props.slotName]: terms })
  isAdding.value = false
  close()
}
</script>

<template>
  <template v-for="(each, i) in terms" :key="`${each.at} ${each.title}`"
    >{{ slotName === 'vary_with' || i ? ', ' : ' '
    }}<SlotChip
      v-if="isModel && each.entry && !each.term.with"
      :is-open="opened === each.at"
      :label="`How ${each.title} enters`"
      @toggle="opened = $event ? each.at : undefined"
      >{{ each.title }}{{ each.way ? ' ' : ''
      }}<span v-if="each.way" class="way">{{ each.way }}</span
      ><template #picker>
        <TermDetails
          :entry="each.entry"
          :term="each.term"
          :others="others(each.term.variable)"
          @change="change(changedTerm(question, slotName, each.at, $event))"
          @together="
            (change(together(question, slotName, each.term.variable, $event)), (opened = undefined))
          "
          @drop="change(withoutTerm(question, each.term))"
        /> </template></SlotChip
    ><span v-else class="more" :class="{ unread: !isRead }">{{ each.title }}</span
    ><button
      class="drop"
      :aria-label="`Without ${each.title}`"
      @click="change(withoutTerm(question, each.term))"
    >
      ×
    </button></template
  >{{ ' ' }}
  <SlotChip v-bind="add" :label="addLabel" is-empty is-add>
    {{ addWords }}
    <template #picker>
      <VariablePicker
        :entries="codebook"
        :refusal="refusal"
        :label="addLabel"
        @choose="put"
      /> </template
  ></SlotChip>
</template>

<style scoped>
.way {
  color: var(--pine);
}
.more {
  border-bottom: 2px solid var(--hairline);
}
.unread {
  color: var(--quiet);
}
.drop {
  color: var(--quiet);
  padding: 0 3px;
  font-size: 1.1rem;
}
</style>
