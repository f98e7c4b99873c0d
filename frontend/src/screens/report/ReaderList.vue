<script setup lang="ts">
/** What readers look for in such a report: what is there leads to it, what is missing can be put in. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import StatusSign from '@/parts/StatusSign.vue'

const props = defineProps<{ items: Schemas['Item'][] }>()
const emit = defineEmits<{ go: [block: string]; offer: [what: Schemas['Item']['offer']] }>()

const there = computed(() => props.items.filter(({ block }) => block !== null).length)
const SIGNS = { ok: 'Found', care: 'Not found', fail: 'Not found' }
const OFFERS: Record<Schemas['Item']['offer'], string> = {
  '': '',
  methods: 'Write methods',
  flow: 'Put in who was counted',
  characteristics: 'Put in characteristics',
  frequencies: 'Put in frequencies',
  table: 'Put in a table',
  preparation: 'Put in the preparation',
  codebook: 'Put in the variables',
}
</script>

<template>
  <details class="list">
    <summary>
      <span class="overline">What reviewers look for</span>
      <span class="quiet">{{ there }} of {{ items.length }} found</span>
    </summary>
    <p class="quiet hint">
      The items of the STROBE statement. Words are found by looking for them, not by reading: a mark
      says where to look.
    </p>
    <ul>
      <li v-for="item in items" :key="item.number">
        <StatusSign :status="item.block !== null ? 'ok' : 'care'" :words="SIGNS" />
        <span>
          {{ item.number }}. {{ item.words }}
          <button v-if="item.block" class="act" @click="emit('go', item.block)">Show</button>
          <button v-else-if="item.offer" class="act" @click="emit('offer', item.offer)">
            {{ OFFERS[item.offer] }}
          </button>
        </span>
      </li>
    </ul>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
}
.overline {
  margin-right: 8px;
}
.hint {
  font-size: 0.87rem;
}
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
  display: grid;
  gap: 5px;
}
li {
  display: grid;
  grid-template-columns: 20px 1fr;
  line-height: 1.3;
}
</style>
