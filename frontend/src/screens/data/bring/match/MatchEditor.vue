<script setup lang="ts">
/** Which variables must be equal, what is taken, and who finds a partner. */
import { computed, ref } from 'vue'

import type { Match } from '@/api/types'
import { count, plural } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { titleOf } from '@/parts/kinds'
import { matching } from '@/parts/search'
import type { EditorProps } from '../recipes'
import FindingList from '../FindingList.vue'
import VariableField from '../VariableField.vue'

const props = defineProps<EditorProps<Match>>()
const emit = defineEmits<{ change: [recipe: Match] }>()

const here = computed(() => props.codebooks[0] ?? [])
const there = computed(() => props.codebooks[1] ?? [])
const typed = ref('')
const keys = computed(() => props.recipe.keys.map((pair) => pair.there))
const offered = computed(() =>
  matching(
    there.value.filter(({ variable }) => !keys.value.includes(variable.name)),
    typed.value,
    ({ variable }) => [titleOf(variable), variable.name],
  ),
)
const found = computed(() => props.look?.match)

function put(changes: Partial<Match>) {
  emit('change', { ...props.recipe, ...changes })
}

function setKey(at: number, part: 'here' | 'there', name: string | null) {
  const changed = props.recipe.keys.map((pair, i) =>
    i === at ? { ...pair, [part]: name ?? '' } : pair,
  )
  put({
    keys: changed,
    take: props.recipe.take.filter((each) => part !== 'there' || each !== name),
  })
}

function turn(name: string) {
  const { take } = props.recipe
  put({ take: take.includes(name) ? take.filter((each) => each !== name) : [...take, name] })
}
</script>

<template>
  <div class="match">
    <p v-for="(pair, i) in recipe.keys" :key="i" class="serif pair">
      {{ i ? 'and' : 'Where' }}
      <VariableField
        :entries="here"
        :chosen="pair.here"
        :label="`Key ${i + 1} in ${sources[0]?.name}`"
        empty="a variable here"
        :disabled="!mayChange"
        @choose="setKey(i, 'here', $event)"
      />
      <small class="quiet"> of {{ sources[0]?.name }}</small> is
      <VariableField
        :entries="there"
        :chosen="pair.there"
        :label="`Key ${i + 1} in ${sources[1]?.name}`"
        empty="a variable there"
        :disabled="!mayChange"
        @choose="setKey(i, 'there', $event)"
      />
      <small class="quiet"> of {{ sources[1]?.name }}</small>
      <button
        v-if="recipe.keys.length > 1 && mayChange"
        class="act"
        @click="put({ keys: recipe.keys.filter((_, k) => k !== i) })"
      >
        Remove
      </button>
    </p>
    <p class="more">
      <button
        v-if="mayChange"
        class="act"
        @click="put({ keys: [...recipe.keys, { here: '', there: '' }] })"
      >
        + and another variable
      </button>
      <label class="quiet"
        ><input
          type="checkbox"
          :checked="recipe.ignore_zeros"
          :disabled="!mayChange"
          @change="put({ ignore_zeros: !recipe.ignore_zeros })"
        />
        zeros in front do not count: “007” is “7”</label
      >
    </p>
    <section aria-label="What is taken">
      <h2 class="overline">Taken from {{ sources[1]?.name }}</h2>
      <p class="more">
        <input v-if="there.length > 8" v-model="typed" class="line search" placeholder="Find one" />
        <button
          v-if="mayChange"
          class="act"
          @click="put({ take: offered.map(({ variable }) => variable.name) })"
        >
          All {{ offered.length }}
        </button>
      </p>
      <ul class="offered">
        <li v-for="{ variable } in offered" :key="variable.name">
          <label
            ><input
              type="checkbox"
              :checked="recipe.take.includes(variable.name)"
              :disabled="!mayChange"
              @change="turn(variable.name)"
            />
            {{ titleOf(variable) }}</label
          >
        </li>
      </ul>
    </section>
    <ErrorNote :error="problem ?? undefined" />
    <section v-if="found && !problem" aria-label="Who finds a partner">
      <p class="serif big">
        <b>{{ count(found.matched) }}</b> of {{ count(look!.rows) }} rows find their key ({{
          found.relation
        }}).
      </p>
      <FindingList :findings="look!.findings" />
      <p v-if="found.here.n" class="quiet">
        Without a partner here: {{ found.here.keys.join(', ')
        }}{{ found.here.n > found.here.keys.length ? ' …' : '' }}
      </p>
      <p v-if="found.there.n" class="quiet">
        {{ plural(found.there.n, 'row', 'rows') }} of {{ sources[1]?.name }}
        {{ found.there.n === 1 ? 'is' : 'are' }} not used: {{ found.there.keys.join(', ')
        }}{{ found.there.n > found.there.keys.length ? ' …' : '' }}
      </p>
    </section>
  </div>
</template>

<style scoped>
.match {
  display: grid;
  gap: 12px;
}
.pair {
  font-size: 1.3rem;
}
.pair small {
  font-family: var(--sans);
  font-size: 0.93rem;
}
.more {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 22px;
  align-items: baseline;
}
.search {
  text-align: left;
}
.offered {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  columns: 3 220px;
}
.offered label {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 1px 0;
}
input[type='checkbox'] {
  accent-color: var(--pine);
}
.big {
  font-size: 1.2rem;
  margin-bottom: 6px;
}
</style>
