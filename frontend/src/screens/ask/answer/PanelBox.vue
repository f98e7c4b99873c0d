<script setup lang="ts">
/** A part of an answer that is worked out and shown when it is opened. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { usePanel } from '@/api/answers'
import type { Figures, PanelHead } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useAsking } from '../useAsking'
import { useLongWork } from '../useLongWork'
import CheckList from './CheckList.vue'
import { lenses } from '../lenses'

const props = defineProps<{ head: PanelHead }>()

const { answer, asked, isOld, panels, study } = useAsking()
const cache = useQueryClient()
const isStopped = ref(false)
const isOpen = computed(() => panels.value.has(props.head.name))
watch(
  () => props.head.opens,
  (opens) => {
    if (opens) panels.value.add(props.head.name)
  },
  { immediate: true },
)
const found = usePanel(
  asked,
  props.head.name,
  () => props.head.finds && isOpen.value && !isOld.value && !isStopped.value,
)
const long = useLongWork(() => study.value.id, found)
const view = computed(() => lenses[answer.value.lens]?.panels[props.head.name])
const shown = computed(() => {
  const opened = found.data.value?.panel.opened as Record<string, unknown> | undefined
  return opened?.[props.head.name]
})
/** Pictures go to the panels that draw some. */
const drawn = computed(() => {
  const takes = view.value && 'props' in view.value ? view.value.props : {}
  return 'figures' in (takes ?? {}) ? { figures: (found.data.value?.figures ?? {}) as Figures } : {}
})

/** Cautions that concern this panel alone; others stand in the margin. */
const cautions = computed(() => (props.head.checks ? [] : (found.data.value?.panel.checks ?? [])))

function turn(event: Event) {
  const isNow = (event.target as HTMLDetailsElement).open
  isStopped.value = false
  if (isNow) panels.value.add(props.head.name)
  else panels.value.delete(props.head.name)
}

async function stop() {
  isStopped.value = true
  await cache.cancelQueries({ queryKey: ['study', study.value.id, 'panel', props.head.name] })
}
</script>

<template>
  <details class="panel" :open="isOpen" :data-panel="head.name" @toggle="turn">
    <summary>
      <span class="act">{{ head.title }}</span> <span class="quiet">{{ head.hint }}</span>
    </summary>
    <div v-if="isOpen" class="inside" :aria-busy="found.isFetching.value">
      <CheckList v-if="cautions.length" :checks="cautions" />
      <p v-if="isStopped" class="quiet">
        Stopped. <button class="act" @click="isStopped = false">Go on</button>
      </p>
      <p v-else-if="long.isSlow.value" class="quiet" role="status">
        {{ long.words.value || 'Working it out…' }}
        <button class="act" @click="stop">Stop</button>
      </p>
      <ErrorNote v-if="found.isError.value" :error="found.error.value" />
      <component :is="view" v-else-if="!head.finds" />
      <component :is="view" v-else-if="shown" :found="shown" v-bind="drawn" />
      <p v-else-if="found.isFetching.value && !long.isSlow.value" class="quiet">Working it out…</p>
    </div>
  </details>
</template>

<style scoped>
.panel {
  border-top: 1px solid var(--hairline);
  padding: 8px 0;
}
.panel:first-of-type {
  margin-top: 12px;
}
summary {
  cursor: pointer;
}
.inside {
  padding: 10px 0 6px;
}
</style>
