<script setup lang="ts">
/** Who the question is about: conditions on variables, all or any of them, with groups inside. */
import { computed, ref } from 'vue'

import { useSubsetCount } from '@/api/queries'
import type { Condition, DataSet, Entry, Rule, Study, Subset } from '@/api/types'
import { count } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import VariablePicker from '@/parts/VariablePicker.vue'
import ConditionEditor from './ConditionEditor.vue'
import KeptSubsets from './KeptSubsets.vue'
import { conditionInWords, entryOf, isGroup, rulesOf } from './words'

/** Where a condition stands: at the top, or inside the group at the top. */
interface Place {
  at: number
  inside?: number
}

const props = defineProps<{
  subset: Subset | null | undefined
  codebook: Entry[]
  study: Study
  dataset: DataSet
}>()
const emit = defineEmits<{ change: [subset: Subset | null]; close: [] }>()

const rules = computed(() => rulesOf(props.subset))
const joined = computed(() => how(props.subset))
const edited = ref<Place | undefined>(rules.value.length ? undefined : { at: 0 })
const chosen = ref<string>()
const counted = useSubsetCount(
  () => props.study.id,
  () => props.dataset.id,
  () => props.subset ?? null,
)

const before = computed<Condition | undefined>(() => {
  if (!edited.value) return undefined
  const rule = rules.value[edited.value.at]
  if (!rule) return undefined
  if (!isGroup(rule)) return rule
  return edited.value.inside === undefined
    ? undefined
    : (rulesOf(rule)[edited.value.inside] as Condition | undefined)
})
const entry = computed(() => entryOf(props.codebook, before.value?.variable ?? chosen.value))

function how(subset: Subset | null | undefined): 'all' | 'any' {
  return subset && 'any' in subset ? 'any' : 'all'
}

function put(next: Rule[], joinedBy = joined.value) {
  emit('change', next.length ? ({ [joinedBy]: next } as Subset) : null)
}

/** The rules with the group at a place changed; a group left empty goes. */
function withGroup(at: number, change: (inside: Rule[]) => Rule[], joinedBy?: 'all' | 'any') {
  const group = rules.value[at] as Subset
  const inside = change(rulesOf(group))
  const next = rules.value.map((rule, i) =>
    i === at ? ({ [joinedBy ?? how(group)]: inside } as Subset) : rule,
  )
  return inside.length ? next : next.filter((_, i) => i !== at)
}

function keep(condition: Condition) {
  const place = edited.value!
  if (place.inside === undefined) {
    const next: Rule[] = [...rules.value]
    next[place.at] = condition
    put(next)
  } else if (place.at >= rules.value.length) {
    const other = joined.value === 'all' ? 'any' : 'all'
    put([...rules.value, { [other]: [condition] } as unknown as Subset])
  } else {
    put(
      withGroup(place.at, (inside) => {
        const next = [...inside]
        next[place.inside!] = condition
        return next
      }),
    )
  }
  leave()
}

function leave() {
  edited.value = undefined
  chosen.value = undefined
}

function back() {
  if (chosen.value && !before.value) chosen.value = undefined
  else if (rules.value.length) leave()
}

function remove(at: number, inside?: number) {
  const next =
    inside === undefined
      ? rules.value.filter((_, i) => i !== at)
      : withGroup(at, (group) => group.filter((_, i) => i !== inside))
  put(next)
  if (!next.length) emit('close')
}

function refusal({ variable }: Entry) {
  return variable.kind === 'text' ? 'text: read it as unordered in the Codebook' : undefined
}
</script>

<template>
  <div v-if="edited && !entry">
    <VariablePicker
      :entries="codebook"
      label="Among those with"
      :refusal="refusal"
      @choose="chosen = $event"
    />
    <p v-if="rules.length" class="foot"><button class="act" @click="leave">Back</button></p>
    <KeptSubsets
      v-else
      class="foot"
      :study="study"
      :subset="subset"
      @use="(emit('change', $event), leave())"
    />
  </div>
  <ConditionEditor
    v-else-if="edited && entry"
    :key="entry.variable.name"
    :entry="entry"
    :condition="before"
    @keep="keep"
    @back="back"
  />
  <div v-else class="conditions">
    <p v-if="rules.length > 1" class="joined">
      <label
        ><input type="radio" :checked="joined === 'all'" @change="put(rules, 'all')" /> all of these
        hold</label
      >
      <label
        ><input type="radio" :checked="joined === 'any'" @change="put(rules, 'any')" /> any of these
        holds</label
      >
    </p>
    <ul class="list">
      <li v-for="(rule, i) in rules" :key="i">
        <template v-if="!isGroup(rule)">
          <span class="text">{{ conditionInWords(rule, codebook) }}</span>
          <button class="act" @click="edited = { at: i }">Change</button>
          <button class="act" @click="remove(i)">Remove</button>
        </template>
        <div v-else class="group">
          <p class="quiet">
            {{ how(rule) === 'any' ? 'any of' : 'all of' }}
            <button
              class="act"
              @click="put(withGroup(i, (g) => g, how(rule) === 'any' ? 'all' : 'any'))"
            >
              {{ how(rule) === 'any' ? 'make it all' : 'make it any' }}
            </button>
          </p>
          <ul class="list">
            <li v-for="(condition, k) in rulesOf(rule)" :key="k">
              <span class="text">{{ conditionInWords(condition as Condition, codebook) }}</span>
              <button class="act" @click="edited = { at: i, inside: k }">Change</button>
              <button class="act" @click="remove(i, k)">Remove</button>
            </li>
          </ul>
          <button class="act" @click="edited = { at: i, inside: rulesOf(rule).length }">
            + In this group
          </button>
        </div>
      </li>
    </ul>
    <p v-if="counted.data.value" class="count" role="status">
      <b>{{ count(counted.data.value.rows) }}</b> of {{ count(counted.data.value.of) }}
      {{ dataset.noun_many }}
    </p>
    <ErrorNote :error="counted.error.value" />
    <p class="foot plain">
      <button class="act" @click="edited = { at: rules.length }">+ Another condition</button>
      <button class="act" @click="edited = { at: rules.length, inside: 0 }">+ Group</button>
      <button class="act" @click="(put([]), emit('close'))">Everyone</button>
    </p>
    <KeptSubsets :study="study" :subset="subset" @use="emit('change', $event)" />
  </div>
</template>

<style scoped>
.conditions {
  width: 440px;
  max-width: 92vw;
  padding: 12px 16px;
  max-height: 70vh;
  overflow-y: auto;
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
.list > li {
  display: flex;
  gap: 12px;
  padding: 5px 0;
  border-bottom: 1px solid var(--hairline);
}
.group {
  flex: 1;
  padding-left: 12px;
  border-left: 2px solid var(--hairline);
}
.text {
  flex: 1;
  overflow-wrap: anywhere;
}
.count {
  margin-top: 8px;
}
.foot {
  padding: 8px 14px 12px;
  border-top: 1px solid var(--hairline);
}
.foot.plain {
  display: flex;
  justify-content: space-between;
  border: 0;
  padding: 10px 0;
}
input {
  accent-color: var(--pine);
}
</style>
