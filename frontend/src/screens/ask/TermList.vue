<script setup lang="ts">
/** The variables of one slot after the first: each a chip that opens how it enters, and one to add. */
import { computed, nextTick, ref } from 'vue'

import type { Entry, Question } from '@/api/types'
import { labelOf, titleOf } from '@/parts/kinds'
import VariablePicker from '@/parts/VariablePicker.vue'
import SlotChip from './SlotChip.vue'
import TermDetails from './TermDetails.vue'
import { changedTerm, namesIn, together, withoutTerm, type Term } from './terms'
import { entryOf } from './words'

const props = defineProps<{
  question: Question
  codebook: Entry[]
  slotName: 'vary_with' | 'allowing_for'
  /** Terms before this one stand elsewhere in the sentence. */
  from: number
  addLabel: string
  addWords: string
  refusal: (entry: Entry) => string | undefined
  hasProblem?: boolean
}>()
const emit = defineEmits<{ change: [question: Question] }>()

const isAdding = ref(false)
const opened = ref<number>()
const isModel = computed(() => props.question.lens === 'odds')
const titled = (name: string) => {
  const entry = entryOf(props.codebook, name)
  return entry ? titleOf(entry.variable) : name
}
const terms = computed(() =>
  props.question[props.slotName].slice(props.from).map((term, i) => {
    const entry = entryOf(props.codebook, term.variable)
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

function wayOf(term: Term, entry: Entry | undefined): string {
  if (!entry || term.with) return ''
  const { categories, unit } = entry.variable
  if (categories.length) {
    const reference = term.reference ?? entry.variable.reference ?? categories[0]!.value
    return `against ${labelOf(entry.variable, reference)}`
  }
  const per = term.per && term.per !== 1 ? `per ${term.per}${unit ? ` ${unit}` : ''}` : ''
  return [per, term.bend ? 'bending' : ''].filter(Boolean).join(', ')
}

const others = (name: string) =>
  namesIn(props.question)
    .filter((other) => other !== name)
    .map((other) => ({ name: other, title: titled(other) }))

function add(variable: string) {
  const terms = [...props.question[props.slotName], { variable }]
  emit('change', { ...props.question, [props.slotName]: terms })
  isAdding.value = false
}

async function open() {
  isAdding.value = false
  await nextTick()
  isAdding.value = true
}

defineExpose({ open })
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
          @change="emit('change', changedTerm(question, slotName, each.at, $event))"
          @together="
            (emit('change', together(question, slotName, each.term.variable, $event)),
            (opened = undefined))
          "
          @drop="emit('change', withoutTerm(question, each.term))"
        /> </template></SlotChip
    ><span v-else class="more">{{ each.title }}</span
    ><button
      class="drop"
      :aria-label="`Without ${each.title}`"
      @click="emit('change', withoutTerm(question, each.term))"
    >
      ×
    </button></template
  >{{ ' ' }}
  <SlotChip
    :is-open="isAdding"
    :label="addLabel"
    is-empty
    :has-problem="hasProblem"
    @toggle="isAdding = $event"
  >
    {{ addWords }}
    <template #picker>
      <VariablePicker
        :entries="codebook"
        :refusal="refusal"
        :label="addLabel"
        @choose="add"
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
.drop {
  color: var(--quiet);
  padding: 0 3px;
  font-size: 1.1rem;
}
</style>
