<script setup lang="ts">
/** The question as a sentence; each slot opens a picker. */
import { computed, nextTick, ref } from 'vue'

import type { Problem } from '@/api/client'
import type { DataSet, Entry, Question, Study } from '@/api/types'
import { isCategorical, labelOf, titleOf } from '@/parts/kinds'
import VariablePicker from '@/parts/VariablePicker.vue'
import AmongPicker from './AmongPicker.vue'
import OutcomePicker from './OutcomePicker.vue'
import SlotChip from './SlotChip.vue'
import TermPicker from './TermPicker.vue'
import WithinPicker from './WithinPicker.vue'
import { entryOf, subsetInWords } from './words'

type Slot = 'among' | 'outcome' | 'vary_with' | 'more' | 'allowing_for' | 'within'

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
  const isFirst = !props.question.vary_with.length
  const lens = isFirst && outcome.value && isCategorical(outcome.value) ? 'crosstab' : undefined
  change({
    vary_with: [
      { variable, reference, per: null, with: null },
      ...props.question.vary_with.slice(1),
    ],
    ...(lens ? { lens } : {}),
  })
  if (isDone) close()
}

const more = computed(() =>
  props.question.vary_with.slice(1).map(({ variable: name }) => {
    const entry = entryOf(props.codebook, name)
    return { name, title: entry ? titleOf(entry.variable) : name }
  }),
)

/** Numbers may stand beside the first variable: the table of characteristics lists them. */
function refusedMore(entry: Entry): string | undefined {
  if (taken.value.includes(entry.variable.name)) return 'in the sentence'
  return entry.variable.kind === 'numeric' ? undefined : refusal(entry)
}

function add(variable: string) {
  const term = { variable, reference: null, per: null, with: null }
  change({ vary_with: [...props.question.vary_with, term] })
  close()
}

function drop(variable: string) {
  change({ vary_with: props.question.vary_with.filter((term) => term.variable !== variable) })
}

const covariates = computed(() =>
  props.question.allowing_for.map(({ variable: name }) => {
    const entry = entryOf(props.codebook, name)
    return { name, title: entry ? titleOf(entry.variable) : name }
  }),
)

function allowFor(variable: string) {
  const term = { variable, reference: null, per: null, with: null }
  change({ allowing_for: [...props.question.allowing_for, term] })
  close()
}

function release(variable: string) {
  change({
    allowing_for: props.question.allowing_for.filter((term) => term.variable !== variable),
  })
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

defineExpose({ open, turnEvent })
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
        }}<template v-if="referenceLabel">
          <span class="way"> against {{ referenceLabel }}</span></template
        ></template
      >
      <template v-else>+ vary with</template>
      <template #picker>
        <TermPicker
          :codebook="codebook"
          :variable="term?.variable"
          :reference="term?.reference ?? explanatory?.reference ?? null"
          :outcome="question.outcome?.variable"
          :refusal="refusal"
          @change="setTerm"
          @clear="clearTerm"
        />
      </template> </SlotChip
    ><template v-if="explanatory"
      ><template v-for="each in more" :key="each.name"
        >,
        <span class="more"
          >{{ each.title
          }}<button class="drop" :aria-label="`Without ${each.title}`" @click="drop(each.name)">
            ×
          </button></span
        ></template
      >{{ ' ' }}
      <SlotChip
        :is-open="opened === 'more'"
        label="And with another variable"
        is-empty
        @toggle="opened = $event ? 'more' : undefined"
      >
        + and
        <template #picker>
          <VariablePicker
            :entries="codebook"
            :refusal="refusedMore"
            label="And with"
            @choose="add"
          />
        </template> </SlotChip></template
    ><template v-if="question.lens === 'odds'"
      >{{ covariates.length ? ', allowing for' : ' '
      }}<template v-for="(each, i) in covariates" :key="each.name"
        >{{ i ? ', ' : ' '
        }}<span class="more"
          >{{ each.title
          }}<button class="drop" :aria-label="`Without ${each.title}`" @click="release(each.name)">
            ×
          </button></span
        ></template
      >{{ ' ' }}
      <SlotChip
        :is-open="opened === 'allowing_for'"
        label="Allowing for"
        is-empty
        :has-problem="troubled === 'allowing_for'"
        @toggle="opened = $event ? 'allowing_for' : undefined"
      >
        {{ covariates.length ? '+ and' : '+ allowing for' }}
        <template #picker>
          <VariablePicker
            :entries="codebook"
            :refusal="refusedMore"
            label="Allowing for"
            @choose="allowFor"
          />
        </template> </SlotChip></template
    ><template v-else-if="outcome"
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
.more {
  border-bottom: 2px solid var(--hairline);
}
.drop {
  color: var(--quiet);
  padding: 0 3px;
  font-size: 1.1rem;
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
