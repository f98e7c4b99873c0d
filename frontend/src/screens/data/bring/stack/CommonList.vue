<script setup lang="ts">
/** The common variables, what may be the same, and a search over all data sets at once. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import type { CommonLook, CommonVariable, DataSet, Entry, Stack, Study } from '@/api/types'
import { count } from '@/design/numbers'
import { titleOf } from '@/parts/kinds'
import { searchAll, type Hit } from './useHarmony'

const props = defineProps<{
  study: Study
  recipe: Stack
  sources: DataSet[]
  codebooks: Entry[][]
  looks: readonly CommonLook[]
  at: number
  mayChange: boolean
}>()
const emit = defineEmits<{ choose: [at: number]; add: [variables: (string | null)[]] }>()

const ids = computed(() => props.sources.map(({ id }) => id))
const used = computed(() =>
  ids.value.map((_, i) =>
    props.recipe.variables.flatMap(({ taken }) => (taken[i] ? [taken[i].variable] : [])),
  ),
)
const alike = useQuery({
  queryKey: computed(() => ['study', props.study.id, 'alike', ids.value, used.value]),
  queryFn: () =>
    unwrap(
      client.POST('/api/studies/{study_id}/bring/alike', {
        params: { path: { study_id: props.study.id } },
        body: { sources: ids.value, used: used.value },
      }),
    ),
  placeholderData: (previous) => previous,
})
const offers = computed(() => (alike.data.value ?? []).slice(0, 12))
const typed = ref('')
const hits = computed(() => searchAll(props.codebooks, typed.value).slice(0, 30))

function wordsOf(common: CommonVariable): string {
  const look = props.looks.find(({ name }) => name === common.name)
  const absent = props.sources.filter((_, i) => !common.taken[i]).map(({ name }) => name)
  if (look?.not_placed) return `${count(look.not_placed)} not placed yet`
  if (absent.length) return `not in ${absent.join(', ')}`
  if (common.kind === 'numeric') return ['numeric', common.unit].filter(Boolean).join(', ')
  return common.kind === 'date' ? 'date' : `${common.categories.length} answers`
}

function take(hit: Hit) {
  typed.value = ''
  emit(
    'add',
    props.sources.map((_, i) => (i === hit.at ? hit.entry.variable.name : null)),
  )
}
</script>

<template>
  <div class="list">
    <section aria-label="Common variables">
      <h2 class="overline">Common variables</h2>
      <ul>
        <li v-for="(common, i) in recipe.variables" :key="common.name">
          <button
            class="common"
            :class="{ on: i === at }"
            :aria-current="i === at ? 'true' : undefined"
            @click="emit('choose', i)"
          >
            {{ titleOf(common as never) }}
            <small class="quiet">{{ wordsOf(common) }}</small>
          </button>
        </li>
      </ul>
    </section>
    <section v-if="mayChange" class="search" aria-label="Search all data sets">
      <input
        v-model="typed"
        class="line"
        placeholder="Search all data sets"
        aria-label="Search all data sets"
        @keydown.enter.prevent="hits[0] && take(hits[0])"
      />
      <ul v-if="typed.trim()">
        <li v-for="hit in hits" :key="`${hit.at} ${hit.entry.variable.name}`">
          <button class="act" @click="take(hit)">{{ titleOf(hit.entry.variable) }}</button>
          <small class="quiet">{{ sources[hit.at]!.name }}{{ hit.by && `, ${hit.by}` }}</small>
        </li>
        <li v-if="!hits.length" class="quiet">Nothing holds “{{ typed }}”.</li>
      </ul>
    </section>
    <section v-if="mayChange && offers.length" aria-label="May be the same">
      <h2 class="overline">May be the same</h2>
      <ul>
        <li v-for="offer in offers" :key="offer.variables.join(' ')" class="offer">
          {{ offer.variables.filter(Boolean).join(' · ') }}
          <small class="quiet">{{ offer.why }}</small>
          <button class="act" @click="emit('add', offer.variables as (string | null)[])">
            Look
          </button>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.list {
  display: grid;
  gap: 18px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.common {
  display: grid;
  width: 100%;
  text-align: left;
  padding: 5px 10px;
  border-left: 2px solid var(--hairline);
  line-height: 1.3;
}
.common.on {
  border-color: var(--pine);
  background: var(--pine-soft);
  border-radius: 0 6px 6px 0;
}
.search input {
  width: 100%;
  text-align: left;
  padding: 3px 0;
}
.search li,
.offer {
  display: grid;
  padding: 4px 10px;
  border-left: 2px solid var(--hairline);
  line-height: 1.3;
  overflow-wrap: anywhere;
}
</style>
