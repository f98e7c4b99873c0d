<script setup lang="ts">
/** Who did what in a study, by day, newest first. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'

type Happening = Schemas['HappeningOut']
const props = defineProps<{ happenings: Happening[] }>()

const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })
const time = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' })

const days = computed(() => {
  const found = new Map<string, Happening[]>()
  for (const each of props.happenings) {
    const of = day.format(new Date(each.at))
    found.set(of, [...(found.get(of) ?? []), each])
  }
  return [...found]
})
</script>

<template>
  <section aria-labelledby="log-of">
    <h2 id="log-of" class="serif">What happened</h2>
    <p class="quiet">Changes, exports and sharing. Owners read it; nobody can change it.</p>
    <p v-if="!happenings.length">Nothing yet.</p>
    <template v-for="[of, each] in days" :key="of">
      <h3 class="overline">{{ of }}</h3>
      <ol class="log">
        <li v-for="(one, i) in each" :key="i">
          <time :datetime="one.at" class="quiet">{{ time.format(new Date(one.at)) }}</time>
          <span
            ><strong>{{ one.who }}</strong> {{ one.words }}</span
          >
        </li>
      </ol>
    </template>
  </section>
</template>

<style scoped>
h2 {
  font-size: 1.35rem;
}
h3 {
  margin: 16px 0 4px;
}
.log {
  list-style: none;
  padding: 0;
}
.log li {
  display: grid;
  grid-template-columns: 48px 1fr;
  gap: 8px;
  padding: 4px 0;
  overflow-wrap: anywhere;
}
strong {
  font-weight: 600;
}
</style>
