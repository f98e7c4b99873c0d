<script setup lang="ts">
/** What a common variable is called and of which kind; yes/no, bands and more answers of it. */
import { computed, ref } from 'vue'

import type { CommonVariable } from '@/api/types'
import DraftInput from '@/parts/DraftInput.vue'
import { madeBands, madeYesNo, withAnswer } from './useHarmony'

const props = defineProps<{ common: CommonVariable; mayChange: boolean }>()
const emit = defineEmits<{ change: [common: CommonVariable]; remove: [] }>()

const open = ref<'yes' | 'bands' | 'answer'>()
const event = ref<string[]>([])
const typed = ref('')
const isCut = computed(() => props.common.cuts.length > 0)
const hasAnswers = computed(() => ['nominal', 'ordinal'].includes(props.common.kind))
const cuts = computed(() =>
  typed.value
    .split(/[\s;]+/)
    .filter(Boolean)
    .map((text) => Number(text.replace(',', '.'))),
)
const canCut = computed(
  () =>
    cuts.value.length > 0 &&
    cuts.value.every((cut, i) => Number.isFinite(cut) && (!i || cut > cuts.value[i - 1]!)),
)

function turn(what: 'yes' | 'bands' | 'answer') {
  open.value = open.value === what ? undefined : what
  typed.value = ''
  event.value = [...props.common.event]
}

function done(common: CommonVariable) {
  open.value = undefined
  emit('change', common)
}
</script>

<template>
  <header class="head">
    <DraftInput
      :value="common.label || common.name"
      class="label serif"
      aria-label="Label of the common variable"
      maxlength="300"
      :disabled="!mayChange"
      @take="(text) => emit('change', { ...common, label: text.trim() })"
    />
    <p v-if="mayChange" class="choices">
      <template v-if="hasAnswers && !isCut">
        <button
          class="act"
          :aria-pressed="common.kind === 'ordinal'"
          @click="
            emit('change', { ...common, kind: common.kind === 'ordinal' ? 'nominal' : 'ordinal' })
          "
        >
          {{ common.kind === 'ordinal' ? 'ordered' : 'make it ordered' }}
        </button>
        <button class="act" :aria-expanded="open === 'answer'" @click="turn('answer')">
          + Answer
        </button>
        <button class="act" :aria-expanded="open === 'yes'" @click="turn('yes')">
          Make it yes/no
        </button>
      </template>
      <button
        v-if="common.kind === 'numeric' || isCut"
        class="act"
        :aria-expanded="open === 'bands'"
        @click="turn('bands')"
      >
        {{ isCut ? 'Other bands' : 'Cut into bands' }}
      </button>
      <button class="act" @click="emit('remove')">Take it out</button>
    </p>
    <form
      v-if="open === 'answer'"
      class="more"
      @submit.prevent="typed.trim() && done(withAnswer(common, typed.trim()))"
    >
      <input
        v-model="typed"
        class="line text"
        placeholder="The new answer"
        aria-label="New answer"
      />
      <button class="act" :disabled="!typed.trim()">Add</button>
    </form>
    <form
      v-else-if="open === 'yes'"
      class="more"
      @submit.prevent="event.length && done(madeYesNo(common, event))"
    >
      <span class="quiet">Yes is</span>
      <label v-for="category in common.categories" :key="category.value"
        ><input v-model="event" type="checkbox" :value="category.value" />
        {{ category.label }}</label
      >
      <button class="act" :disabled="!event.length || event.length === common.categories.length">
        Make it so
      </button>
    </form>
    <form
      v-else-if="open === 'bands'"
      class="more"
      @submit.prevent="canCut && done(madeBands(common, cuts))"
    >
      <input
        v-model="typed"
        class="line text"
        placeholder="30 45 60"
        aria-label="Where the bands begin"
      />
      <button class="act" :disabled="!canCut">Cut there</button>
      <span class="quiet">each band includes its lower end</span>
    </form>
  </header>
</template>

<style scoped>
.head {
  display: grid;
  gap: 6px;
}
.label {
  font-size: 1.6rem;
  border: 0;
  background: none;
  color: var(--ink);
  padding: 0;
  width: 100%;
}
.label:focus {
  outline: none;
  border-bottom: 2px solid var(--pine);
}
.more {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: baseline;
}
.text {
  text-align: left;
  width: 220px;
}
input[type='checkbox'] {
  accent-color: var(--pine);
}
</style>
