<script setup lang="ts">
/** Changes made to this data set, in words, with undo and redo. */
import { computed, ref } from 'vue'

import { useSteps } from '@/api/queries'
import type { DataSet, MadeStep, Study } from '@/api/types'
import { useMakeStep } from '@/api/useSteps'
import { count } from '@/design/numbers'
import { useNotices } from '@/notices'
import { useShortcuts } from '@/shortcuts'

const props = defineProps<{ study: Study; dataset: DataSet; mayChange: boolean }>()
const notices = useNotices()
const made = useSteps(
  () => props.study.id,
  () => props.dataset.id,
)
const steps = useMakeStep(
  () => props.study.id,
  () => props.dataset.id,
)
const showsAll = ref(false)

const all = computed(() => made.data.value ?? [])
const shown = computed(() => (showsAll.value ? all.value : all.value.slice(-6)))
const canUndo = computed(() => all.value.some((step) => step.is_active))
const canRedo = computed(() => all.value.some((step) => !step.is_active))

async function attempt(work: () => Promise<unknown>) {
  try {
    await work()
  } catch (error) {
    notices.complain(error)
  }
}

interface Count {
  answered: number
  categories?: number
}

/** "2,412 → 2,378 answered, 5 → 3 categories" */
function effect(step: MadeStep): string {
  const before = step.effect.before as Count | null
  const after = step.effect.after as Count | null
  if (!after) return ''
  if (!before) return `${count(after.answered)} answered`
  const parts = []
  if (before.answered !== after.answered)
    parts.push(`${count(before.answered)} → ${count(after.answered)} answered`)
  if ((before.categories ?? 0) !== (after.categories ?? 0))
    parts.push(`${before.categories ?? 'no'} → ${after.categories ?? 'no'} categories`)
  return parts.join(', ')
}

useShortcuts('Changes made', [
  { key: 'z', words: 'Undo the last change', run: () => canUndo.value && attempt(steps.undo) },
  { key: 'Z', words: 'Redo', run: () => canRedo.value && attempt(steps.redo) },
])
</script>

<template>
  <section v-if="all.length" class="changes" aria-label="Changes made">
    <div class="head">
      <h3 class="overline">Changes made</h3>
      <template v-if="mayChange">
        <button class="act" :disabled="!canUndo" @click="attempt(steps.undo)">Undo</button>
        <button class="act" :disabled="!canRedo" @click="attempt(steps.redo)">Redo</button>
      </template>
    </div>
    <button v-if="all.length > 6" class="act" @click="showsAll = !showsAll">
      {{ showsAll ? 'Only the last six' : `All ${all.length}` }}
    </button>
    <ol class="list" :start="all.length - shown.length + 1">
      <li v-for="step in shown" :key="step.id" :class="{ undone: !step.is_active }">
        <span class="words"
          >{{ step.words }}<small v-if="effect(step)" class="quiet">{{ effect(step) }}</small></span
        >
        <button
          v-if="mayChange"
          class="act"
          :aria-label="`${step.is_active ? 'Take back' : 'Make again'}: ${step.words}`"
          @click="attempt(() => steps.turn(step.id, !step.is_active))"
        >
          {{ step.is_active ? 'take back' : 'make again' }}
        </button>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.changes {
  margin-top: 8px;
}
.head {
  display: flex;
  gap: 16px;
  align-items: baseline;
}
.head .overline {
  margin-right: auto;
}
.list {
  margin: 0;
  padding-left: 20px;
  font-size: 0.93rem;
}
.list li::marker {
  color: var(--quiet);
}
.list li {
  padding: 3px 0;
}
.words {
  overflow-wrap: anywhere;
}
.words small {
  display: block;
}
.undone .words {
  text-decoration: line-through;
  color: var(--quiet);
}
.list .act {
  font-size: 0.87rem;
  font-weight: 400;
}
</style>
