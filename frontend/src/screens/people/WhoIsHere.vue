<script setup lang="ts">
/** The others who have this study open now, and what they are at. */
import type { Here } from '@/api/people'

defineProps<{ here: Here[]; to: object }>()

const SCREENS: Record<string, string> = {
  data: 'Data',
  bring: 'Data',
  made: 'Data',
  codebook: 'Codebook',
  ask: 'Ask',
  compare: 'Compare',
  report: 'Report',
  people: 'People',
}

const at = ({ who, screen, editing }: Here) =>
  [
    `${who} is here`,
    SCREENS[screen] ? `in ${SCREENS[screen]}` : '',
    editing ? `changing ${editing}` : '',
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <router-link :to="to" class="here" aria-label="People of this study">
    <span
      v-for="each in here.slice(0, 4)"
      :key="each.who"
      class="who"
      :class="{ changing: each.editing }"
      :title="at(each)"
      ><span aria-hidden="true">{{ each.who.slice(0, 2) }}</span
      ><span class="visually-hidden">{{ at(each) }}</span></span
    >
    <span v-if="here.length > 4" class="quiet">+{{ here.length - 4 }}</span>
    <span class="words">People</span>
  </router-link>
</template>

<style scoped>
.here {
  display: flex;
  align-items: center;
  gap: 4px;
  color: var(--quiet);
  text-decoration: none;
  white-space: nowrap;
}
.words:hover {
  color: var(--pine);
}
.who {
  border: 1px solid var(--pine);
  color: var(--pine);
  border-radius: 6px;
  padding: 0 5px;
  font-size: 0.85rem;
  text-transform: capitalize;
}
.who.changing {
  background: var(--pine);
  color: var(--paper);
}
</style>
