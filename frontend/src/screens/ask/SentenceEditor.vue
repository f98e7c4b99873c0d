<script setup lang="ts">
/** The question as a sentence; each slot opens a picker. */
import { computed, nextTick, ref } from 'vue'

import type { Problem } from '@/api/client'
import type { DataSet, Entry, Question, Study } from '@/api/types'
import { isCategorical, labelOf, titleOf } from '@/parts/kinds'
import AmongPicker from './AmongPicker.vue'
import OutcomePicker from './OutcomePicker.vue'
import SlotChip from './SlotChip.vue'
import TermList from './TermList.vue'
import TermPicker from './TermPicker.vue'
import { changedTerm, namesIn, together, withoutTerm } from './terms'
import WithinPicker from './WithinPicker.vue'
import { entryOf, subsetInWords } from './words'

type Slot = 'among' | 'outcome' | 'vary_with' | 'within'

const props = defineProps<{
  question: Question
  codebook: Entry[]
  dataset: DataSet
  study: Study
  problem?: Problem
}>()
const emit = defineEmits<{ change: [question: Question] }>()

const opened = ref<Slot>()
const outcome = computed(() => entryOf(props.codebook, props.question.outcome?.variable)?.variable)
const term = computed(() => props.question.vary_with[0])
const explanatory = computed(() => entryOf(props.codebook, term.value?.variable)?.variable)
const event = computed(() => {
  const asked = props.question.outcome?.event ?? []
  return asked.length ? asked : (outcome.value?.event ?? [])
})
const eventLabel = computed(() =>
  outcome.value ? event.value.map((value) => labelOf(outcome.value!, value)).join(' or ') : '',
)
const referenceLabel = computed(() => {
  const variable = explanatory.value
  if (!variable || !variable.categories.length) return ''
  const value = term.value?.reference ?? variable.reference ?? variable.categories[0]!.value
  return labelOf(variable, value)
})
const among = computed(() =>
  props.question.among ? subsetInWords(props.question.among, props.codebook) : '',
)
const within = computed(() =>
  props.question.within
    .map((name) => {
      const entry = entryOf(props.codebook, name)
      return entry ? titleOf(entry.variable) : name
    })
    .join(' and '),
)
const taken = computed(() => [
  ...(props.question.outcome ? [props.question.outcome.variable] : []),
  ...props.question.vary_with.map(({ variable }) => variable),
  ...props.question.allowing_for.map(({ variable }) => variable),
])
const troubled = computed(() => props.problem?.where('slot'))

function change(changes: Partial<Question>) {
  emit('change', { ...props.question, ...changes })
}

function turnEvent() {
  if (!outcome.value || !event.value.length || !props.question.outcome) return
  const others = outcome.value.categories
    .map(({ value }) => value)
    .filter((value) => !event.value.includes(value))
  change({ outcome: { ...props.question.outcome, event: others } })
}

async function open(slot: Slot) {
  opened.value = undefined
  await nextTick()
  opened.value = slot
}

function close(next?: Slot) {
  opened.value = undefined
  if (next) setTimeout(() => open(next), 120)
}

function setOutcome(variable: string, chosen: string[], isDone: boolean) {
  change({ outcome: { variable, event: chosen } })
  if (isDone) close()
}

function setTerm(variable: string, reference: string | null, isDone: boolean) {
  // The question is asked through the lens that answers it, unless another was chosen since.
  const asked = entryOf(props.codebook, variable)?.variable
  const isFirst = !props.question.vary_with.length
  let lens = isFirst && outcome.value && isCategorical(outcome.value) ? 'crosstab' : undefined
  if (asked?.kind === 'numeric') lens = 'odds'
  const others = props.question.vary_with.filter((each) => each.variable !== term.value?.variable)
  change({
    vary_with: [{ variable, reference }, ...others],
    ...(lens ? { lens: lens as Question['lens'] } : {}),
  })
  if (isDone) close()
}

/** Numbers may stand beside the first variable: tables of characteristics and models take them. */
function refusedMore(entry: Entry): string | undefined {
  if (taken.value.includes(entry.variable.name)) return 'in the sentence'
  return entry.variable.kind === 'numeric' ? undefined : refusal(entry)
}

function refusedFirst(entry: Entry): string | undefined {
  return entry.variable.kind === 'numeric' ? undefined : refusal(entry)
}

const isModel = computed(() => props.question.lens === 'odds')
const firstWay = computed(() => {
  if (referenceLabel.value) return `against ${referenceLabel.value}`
  const { per, bend } = term.value ?? {}
  const unit = explanatory.value?.unit
  return [per && per !== 1 ? `per ${per}${unit ? ` ${unit}` : ''}` : '', bend ? 'bending' : '']
    .filter(Boolean)
    .join(', ')
})
const othersThanFirst = computed(() =>
  namesIn(props.question)
    .filter((name) => name !== term.value?.variable)
    .map((name) => {
      const entry = entryOf(props.codebook, name)
      return { name, title: entry ? titleOf(entry.variable) : name }
    }),
)

function actTogether(other: string) {
  emit('change', together(props.question, 'vary_with', term.value!.variable, other))
  close()
}

function clearTerm() {
  change({ vary_with: [], lens: 'distribution' })
  close()
}

function refusal(entry: Entry): string | undefined {
  if (isCategorical(entry.variable)) return undefined
  return entry.variable.kind === 'numeric'
    ? 'numeric: read it as ordered in the Codebook'
    : 'text: read it as unordered in the Codebook'
}

const covariates = ref<InstanceType<typeof TermList>>()

async function openAllowingFor() {
  if (covariates.value) await covariates.value.open()
}

defineExpose({
  open: (slot: Slot | 'allowing_for') => (slot === 'allowing_for' ? openAllowingFor() : open(slot)),
  turnEvent,
})
</script>

<template>
  <p class="sentence serif" aria-label="Question">
    Among
    <SlotChip
      :is-open="opened === 'among'"
      label="Among"
      :is-empty="!among"
      :has-problem="troubled === 'among'"
      @toggle="opened = $event ? 'among' : undefined"
    >
      {{ among || `every ${dataset.noun_one}` }}
      <template #picker>
        <AmongPicker
          :subset="question.among"
          :codebook="codebook"
          :study="study"
          :dataset="dataset"
          @change="change({ among: $event })"
          @close="close()"
        />
      </template> </SlotChip
    >, how {{ explanatory ? 'does' : 'is' }}
    <SlotChip
      :is-open="opened === 'outcome'"
      label="Outcome and event"
      :is-empty="!outcome"
      :has-problem="troubled === 'outcome'"
      @toggle="opened = $event ? 'outcome' : undefined"
    >
      <template v-if="outcome"
        >{{ titleOf(outcome)
        }}<template v-if="eventLabel"
          >: <span class="way">{{ eventLabel }}</span></template
        ></template
      >
      <template v-else>an outcome</template>
      <template #picker>
        <OutcomePicker
          :codebook="codebook"
          :variable="question.outcome?.variable"
          :event="event"
          :refusal="() => undefined"
          @change="setOutcome"
        />
      </template>
    </SlotChip>
    <button
      v-if="eventLabel"
      class="turn"
      :aria-label="`Turn round: make the other answers to ${titleOf(outcome!)} the event`"
      title="Turn the event round (t)"
      @click="turnEvent"
    >
      ⇄
    </button>
    <template v-if="explanatory">{{ ' vary with ' }}</template>
    <template v-else>{{ ' distributed ' }}</template>
    <SlotChip
      :is-open="opened === 'vary_with'"
      label="Vary with, and its reference"
      :is-empty="!explanatory"
      :has-problem="troubled === 'vary_with'"
      @toggle="opened = $event ? 'vary_with' : undefined"
    >
      <template v-if="explanatory"
        >{{ titleOf(explanatory)
        }}<template v-if="firstWay"
          >{{ ' ' }}<span class="way">{{ firstWay }}</span></template
        ></template
      >
      <template v-else>+ vary with</template>
      <template #picker>
        <TermPicker
          :codebook="codebook"
          :variable="term?.variable"
          :reference="term?.reference ?? explanatory?.reference ?? null"
          :outcome="question.outcome?.variable"
          :refusal="refusedFirst"
          :term="isModel ? term : undefined"
          :others="othersThanFirst"
          @change="setTerm"
          @detail="emit('change', changedTerm(question, 'vary_with', 0, $event))"
          @together="actTogether"
          @drop="(emit('change', withoutTerm(question, term!)), close())"
          @clear="clearTerm"
        />
      </template> </SlotChip
    ><template v-if="explanatory"
      ><TermList
        :question="question"
        :codebook="codebook"
        slot-name="vary_with"
        :from="1"
        add-label="And with another variable"
        add-words="+ and"
        :refusal="refusedMore"
        @change="emit('change', $event)" /></template
    ><template v-if="isModel"
      >{{ question.allowing_for.length ? ', allowing for' : ' '
      }}<TermList
        ref="covariates"
        :question="question"
        :codebook="codebook"
        slot-name="allowing_for"
        :from="0"
        add-label="Allowing for"
        :add-words="question.allowing_for.length ? '+ and' : '+ allowing for'"
        :refusal="refusedMore"
        :has-problem="troubled === 'allowing_for'"
        @change="emit('change', $event)" /></template
    ><template v-if="outcome"
      >{{ within ? ', within each ' : ' ' }}
      <SlotChip
        :is-open="opened === 'within'"
        label="Within each"
        :is-empty="!within"
        :has-problem="troubled === 'within'"
        @toggle="opened = $event ? 'within' : undefined"
      >
        {{ within || '+ within each' }}
        <template #picker>
          <WithinPicker
            :codebook="codebook"
            :within="question.within"
            :taken="taken"
            @change="change({ within: $event })"
            @close="close()"
          />
        </template> </SlotChip></template
    >?
  </p>
</template>

<style scoped>
.sentence {
  font-size: 1.6rem;
  line-height: 1.55;
  letter-spacing: -0.1px;
  overflow-wrap: anywhere;
}
.way {
  color: var(--pine);
}
.turn {
  color: var(--pine);
  font-size: 1.1rem;
  padding: 0 4px;
  border-radius: 4px;
}
.turn:hover {
  background: var(--pine-soft);
}
@media (max-width: 760px) {
  .sentence {
    font-size: 1.3rem;
  }
}
</style>
