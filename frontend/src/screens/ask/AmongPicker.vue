<script setup lang="ts">
/** Who the question is about: conditions on variables, all or any of them. */
import { computed, ref } from 'vue'

import type { Condition, Entry, Subset } from '@/api/types'
import VariablePicker from '@/parts/VariablePicker.vue'
import ConditionEditor from './ConditionEditor.vue'
import { conditionInWords, conditionsOf, entryOf } from './words'

const props = defineProps<{ subset: Subset | null | undefined; codebook: Entry[] }>()
const emit = defineEmits<{ change: [subset: Subset | null]; close: [] }>()

const conditions = computed(() => conditionsOf(props.subset))
const joined = computed<'all' | 'any'>(() =>
  props.subset && 'any' in props.subset ? 'any' : 'all',
)
const edited = ref<number | 'new' | undefined>(conditions.value.length ? undefined : 'new')
const chosen = ref<string>()
const entry = computed(() => {
  const at = edited.value
  const name = typeof at === 'number' ? conditions.value[at]?.variable : chosen.value
  return entryOf(props.codebook, name)
})
const before = computed(() =>
  typeof edited.value === 'number' ? conditions.value[edited.value] : undefined,
)

function put(next: Condition[], how = joined.value) {
  emit('change', next.length ? ({ [how]: next } as Subset) : null)
}

function keep(condition: Condition) {
  const next = [...conditions.value]
  if (typeof edited.value === 'number') next[edited.value] = condition
  else next.push(condition)
  put(next)
  edited.value = undefined
  chosen.value = undefined
}

function remove(at: number) {
  put(conditions.value.filter((_, i) => i !== at))
  if (conditions.value.length <= 1) emit('close')
}

function refusal(entry: Entry) {
  const many = entry.variable.kind === 'text'
  return many ? 'text: read it as unordered in the Codebook' : undefined
}
</script>

<template>
  <div v-if="edited !== undefined && !entry">
    <VariablePicker
      :entries="codebook"
      label="Among those with"
      :refusal="refusal"
      @choose="chosen = $event"
    />
    <p v-if="conditions.length" class="foot">
      <button class="act" @click="edited = undefined">Back</button>
    </p>
  </div>
  <ConditionEditor
    v-else-if="edited !== undefined && entry"
    :key="entry.variable.name"
    :entry="entry"
    :condition="before"
    @keep="keep"
    @back="((chosen = undefined), (edited = conditions.length ? undefined : 'new'))"
  />
  <div v-else class="conditions">
    <p v-if="conditions.length > 1" class="joined">
      <label
        ><input type="radio" :checked="joined === 'all'" @change="put(conditions, 'all')" /> all of
        these hold</label
      >
      <label
        ><input type="radio" :checked="joined === 'any'" @change="put(conditions, 'any')" /> any of
        these holds</label
      >
    </p>
    <ul class="list">
      <li v-for="(condition, i) in conditions" :key="i">
        <span class="text">{{ conditionInWords(condition, codebook) }}</span>
        <button class="act" @click="edited = i">Change</button>
        <button class="act" @click="remove(i)">Remove</button>
      </li>
    </ul>
    <p class="foot plain">
      <button class="act" autofocus @click="edited = 'new'">+ Another condition</button>
      <button class="act" @click="(put([]), emit('close'))">Everyone</button>
    </p>
  </div>
</template>

<style scoped>
.conditions {
  width: 420px;
  max-width: 92vw;
  padding: 12px 16px;
}
.joined {
  display: flex;
  gap: 18px;
  margin-bottom: 8px;
}
.list {
  list-style: none;
  margin: 0;
  padding: 0;
}
.list li {
  display: flex;
  gap: 12px;
  padding: 5px 0;
  border-bottom: 1px solid var(--hairline);
}
.text {
  flex: 1;
  overflow-wrap: anywhere;
}
.foot {
  padding: 8px 14px 12px;
  border-top: 1px solid var(--hairline);
}
.foot.plain {
  display: flex;
  justify-content: space-between;
  border: 0;
  padding: 10px 0 0;
}
input {
  accent-color: var(--pine);
}
</style>
