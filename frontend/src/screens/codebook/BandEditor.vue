<script setup lang="ts">
/** Cut a numeric variable into bands on its histogram; the server counts while lines are dragged. */
import { computed, onMounted, ref, watch } from 'vue'

import { client, unwrap } from '@/api/client'
import type { DataSet, Entry, Step, Study } from '@/api/types'
import { useMakeStep } from '@/api/useSteps'
import { count, inField, short } from '@/design/numbers'
import { withinSentence } from '@/parts/kinds'
import CutLine from './CutLine.vue'
import MakeForm from './MakeForm.vue'
import { freeName } from './steps'

const props = defineProps<{ study: Study; dataset: DataSet; entry: Entry; codebook: Entry[] }>()
const emit = defineEmits<{ step: [step: Step]; close: [] }>()

const steps = useMakeStep(
  () => props.study.id,
  () => props.dataset.id,
)
const variable = computed(() => props.entry.variable)
const name = ref(freeName(`${variable.value.name}_band`, props.codebook))
const label = ref(`${withinSentence(variable.value)}, banded`)
const typed = ref('')
const bands = ref(4)
const counted = ref<{ label: string; n: number }[]>([])
const refused = ref('')
const place = ref<HTMLElement>()
const dragged = ref<number>()

const range = computed(() => {
  const { summary } = props.entry
  const low = summary.kind === 'numbers' ? (summary.low ?? 0) : 0
  const high = summary.kind === 'numbers' ? (summary.high ?? 1) : 1
  return { low, width: high - low || 1 }
})
const bars = computed(() => {
  const { summary } = props.entry
  const counts = summary.kind === 'numbers' ? summary.counts : []
  const highest = Math.max(1, ...counts)
  return counts.map((n) => n / highest)
})
const cuts = computed(() =>
  typed.value
    .split(/[;\s]+|,\s+/)
    .filter(Boolean)
    .map((text) => Number(text.replace(',', '.'))),
)
const problem = computed(() => {
  if (!cuts.value.length) return 'Give at least one cut.'
  if (cuts.value.some(Number.isNaN)) return 'Cuts are numbers, such as 30 45 60.'
  if (cuts.value.some((cut, i) => i > 0 && cut <= cuts.value[i - 1]!)) return 'Cuts must rise.'
  return refused.value || undefined
})

function step(): Step {
  return {
    step: 'band',
    variable: variable.value.name,
    name: name.value.trim(),
    label: label.value.trim(),
    cuts: cuts.value,
    labels: [],
  }
}

let turn = 0
watch(typed, async () => {
  refused.value = ''
  if (problem.value) return
  const mine = ++turn
  try {
    const entry = await steps.preview({ ...step(), name: '(bands)' } as Step)
    if (mine !== turn || entry.summary.kind !== 'categories') return
    const { counts } = entry.summary
    counted.value = entry.variable.categories.map((c, i) => ({ label: c.label, n: counts[i] ?? 0 }))
  } catch (error) {
    if (mine === turn) refused.value = (error as Error).message
  }
})

async function suggest(how: 'equal_width' | 'equal_count') {
  try {
    const found = await unwrap(
      client.GET('/api/studies/{study_id}/datasets/{dataset_id}/codebook/{name}/cuts', {
        params: {
          path: {
            study_id: props.study.id,
            dataset_id: props.dataset.id,
            name: variable.value.name,
          },
          query: { how, bands: bands.value },
        },
      }),
    )
    typed.value = found.join('; ')
  } catch (error) {
    refused.value = (error as Error).message
  }
}
onMounted(() => suggest('equal_count'))

function put(i: number, cut: number) {
  const low = cuts.value[i - 1] ?? -Infinity
  const high = cuts.value[i + 1] ?? Infinity
  if (cut <= low || cut >= high) return
  typed.value = cuts.value.map((each, k) => (k === i ? cut : each)).join('; ')
}

/** A line moves in steps that read well: about two hundred over the range. */
const grain = computed(() => 10 ** Math.floor(Math.log10(range.value.width / 50)))
const settled = (cut: number) => Number(inField(Math.round(cut / grain.value) * grain.value))

function drag(event: PointerEvent) {
  if (dragged.value === undefined || !place.value) return
  const box = place.value.getBoundingClientRect()
  const share = (event.clientX - box.left) / box.width
  put(dragged.value, settled(range.value.low + share * range.value.width))
}

function take(event: PointerEvent, i: number) {
  dragged.value = i
  ;(event.target as HTMLElement).setPointerCapture(event.pointerId)
}

function nudge(i: number, by: number) {
  put(i, settled(cuts.value[i]! + by * grain.value))
}
</script>

<template>
  <MakeForm
    v-model:name="name"
    v-model:label="label"
    action="Make the banded variable"
    :problem="problem"
    @make="emit('step', step())"
    @close="emit('close')"
  >
    <div ref="place" class="histogram" @pointermove="drag" @pointerup="dragged = undefined">
      <span v-for="(bar, i) in bars" :key="i" class="bar" :style="{ height: `${100 * bar}%` }" />
      <template v-if="!cuts.some(Number.isNaN)">
        <CutLine
          v-for="(cut, i) in cuts"
          :key="`cut-${i}`"
          v-bind="{ cut, number: i + 1, range }"
          @take="take($event, i)"
          @nudge="nudge(i, $event)"
        />
      </template>
    </div>
    <p class="quiet ends">
      <span>{{ short(range.low) }}</span><span>each band includes its lower end</span
      ><span>{{ short(range.low + range.width) }}</span>
    </p>
    <label class="typed">
      <span class="quiet">Cuts</span>
      <input v-model="typed" aria-label="Cuts" placeholder="30; 45; 60" />
    </label>
    <p class="suggest">
      <input v-model.number="bands" type="number" min="2" max="50" aria-label="Number of bands" />
      bands
      <button type="button" class="act" @click="suggest('equal_count')">of equal counts</button>
      <button type="button" class="act" @click="suggest('equal_width')">of equal width</button>
    </p>
    <ul class="counts" aria-label="Counts per band">
      <li v-for="band in counted" :key="band.label">
        <span>{{ band.label }}</span><b>{{ count(band.n) }}</b>
      </li>
    </ul>
  </MakeForm>
</template>

<style scoped>
.histogram {
  position: relative;
  display: flex;
  align-items: flex-end;
  gap: 1px;
  height: 110px;
  margin-top: 16px;
  touch-action: none;
}
.bar {
  flex: 1;
  min-height: 1px;
  background: color-mix(in srgb, var(--pine) 40%, var(--sheet));
}
.ends {
  display: flex;
  justify-content: space-between;
  font-size: 0.87rem;
  margin-top: -6px;
}
.typed {
  display: flex;
  gap: 10px;
}
input {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  padding: 3px 2px;
  flex: 1;
}
.suggest {
  display: flex;
  gap: 14px;
  align-items: baseline;
}
.suggest input {
  flex: 0 0 48px;
}
.counts {
  list-style: none;
  margin: 0;
  padding: 0;
}
.counts li {
  display: flex;
  justify-content: space-between;
  border-bottom: 1px solid var(--hairline);
  padding: 2px 0;
}
</style>
