<script setup lang="ts">
/** Choose a variable by typing part of its name or label; arrows and Enter work throughout. */
import { computed, nextTick, onMounted, ref, useId, watch } from 'vue'

import type { Entry } from '@/api/types'
import { focusWhenShown } from './focus'
import KindMark from './KindMark.vue'
import { titleOf } from './kinds'
import Miniature from './Miniature.vue'
import { matching } from './search'

const props = defineProps<{
  entries: Entry[]
  chosen?: string
  /** Why a variable cannot be chosen here, or nothing when it can. */
  refusal?: (entry: Entry) => string | undefined
  label: string
}>()
const emit = defineEmits<{ choose: [name: string] }>()

const id = useId()
const typed = ref('')
const active = ref(0)
const field = ref<HTMLInputElement>()
const list = ref<HTMLElement>()

const found = computed(() =>
  matching(props.entries, typed.value, (entry) => [titleOf(entry.variable), entry.variable.name]),
)

onMounted(() => {
  const at = found.value.findIndex((entry) => entry.variable.name === props.chosen)
  active.value = Math.max(0, at)
  focusWhenShown(field.value)
  nextTick(show)
})
watch(typed, () => (active.value = 0))

function show() {
  list.value?.children[active.value]?.scrollIntoView({ block: 'nearest' })
}

async function move(step: number) {
  const last = found.value.length - 1
  active.value = Math.min(Math.max(active.value + step, 0), last)
  await nextTick()
  show()
}

function choose(entry: Entry | undefined) {
  if (entry && !props.refusal?.(entry)) emit('choose', entry.variable.name)
}
</script>

<template>
  <div class="picker">
    <input
      ref="field"
      v-model="typed"
      class="field"
      type="text"
      role="combobox"
      aria-expanded="true"
      aria-autocomplete="list"
      :aria-controls="`${id}-list`"
      :aria-activedescendant="found.length ? `${id}-${active}` : undefined"
      :aria-label="label"
      placeholder="Type part of a name or label"
      autocomplete="off"
      spellcheck="false"
      @keydown.down.prevent="move(1)"
      @keydown.up.prevent="move(-1)"
      @keydown.page-down.prevent="move(6)"
      @keydown.page-up.prevent="move(-6)"
      @keydown.enter.prevent="choose(found[active])"
    />
    <ul :id="`${id}-list`" ref="list" role="listbox" :aria-label="label" class="options">
      <li
        v-for="(entry, i) in found"
        :id="`${id}-${i}`"
        :key="entry.variable.name"
        role="option"
        :aria-selected="entry.variable.name === chosen"
        :aria-disabled="!!refusal?.(entry)"
        class="option"
        :class="{ active: i === active, refused: !!refusal?.(entry) }"
        :title="refusal?.(entry)"
        @mousemove="active = i"
        @mousedown.prevent
        @click="choose(entry)"
      >
        <KindMark :variable="entry.variable" class="kind" />
        <span class="names"
          ><span class="title">{{ titleOf(entry.variable) }}</span
          ><small v-if="refusal?.(entry)" class="quiet">{{ refusal(entry) }}</small
          ><small v-else-if="entry.variable.label" class="quiet">{{
            entry.variable.name
          }}</small></span
        >
        <span class="mini"><Miniature :entry="entry" /></span>
      </li>
    </ul>
    <p v-if="!found.length" class="quiet nothing">No variable matches “{{ typed }}”.</p>
  </div>
</template>

<style scoped>
.picker {
  width: 430px;
  max-width: 92vw;
}
.field {
  width: 100%;
  border: 0;
  border-bottom: 1px solid var(--hairline);
  padding: 11px 14px;
  font: inherit;
  background: transparent;
  color: var(--ink);
  outline: none;
}
.field:focus {
  border-bottom-color: var(--pine);
}
.options {
  list-style: none;
  margin: 0;
  padding: 4px;
  max-height: 312px;
  overflow-y: auto;
}
.option {
  display: grid;
  grid-template-columns: 40px 1fr 110px;
  gap: 8px;
  align-items: center;
  padding: 5px 8px;
  border-radius: 5px;
  cursor: pointer;
}
.option.active {
  background: var(--pine-soft);
}
.option[aria-selected='true'] .title {
  font-weight: 600;
}
.option.refused {
  cursor: not-allowed;
}
.option.refused .title,
.option.refused .kind,
.option.refused .mini {
  opacity: 0.55;
}
.names {
  display: grid;
  line-height: 1.25;
  min-width: 0;
}
.title {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.nothing {
  padding: 12px 14px 16px;
}
</style>
