<script setup lang="ts">
/** Places that the operator named, and their tables: a table that is linked stays where it is. */
import { ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keys, usePlaces, useRefresh } from '@/api/queries'
import type { DataSet, Study } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'

const props = defineProps<{ study: Study; datasets: readonly DataSet[] }>()
const emit = defineEmits<{ linking: [] }>()

const places = usePlaces(() => props.study.id)
const refresh = useRefresh()
const asking = ref('')
const error = ref<Error>()

const isHere = (place: string, table: string) =>
  props.datasets.some((each) => each.place === place && each.table === table)

async function link(place: string, table: string) {
  error.value = undefined
  asking.value = `${place}/${table}`
  try {
    await unwrap(
      client.POST('/api/studies/{study_id}/places', {
        params: { path: { study_id: props.study.id } },
        body: { place, table },
      }),
    )
    await refresh(...keys.jobs(props.study.id))
    emit('linking')
  } catch (reason) {
    error.value = reason as Error
  } finally {
    asking.value = ''
  }
}
</script>

<template>
  <section class="places" aria-label="Places">
    <p class="quiet">
      The rows of a linked table stay where they are. They are counted there for each question; what
      comes here are counts of answers that occur together, and the rows one looks at on this
      screen.
    </p>
    <p v-if="places.isPending.value" role="status" class="quiet">Looking at the places</p>
    <ErrorNote :error="places.error.value ?? error" />
    <p v-if="places.data.value && !places.data.value.length">
      No place is named on this Hobrix. Whoever runs it can name one: a folder of Parquet files, or
      a database file (<code>hobrix place add</code>).
    </p>
    <div v-for="place in places.data.value" :key="place.name" class="place">
      <h3>{{ place.name }}</h3>
      <p v-if="place.why_not" class="away">{{ place.why_not }}</p>
      <p v-else-if="!place.tables.length" class="quiet">There is no table in it.</p>
      <ul>
        <li v-for="table in place.tables" :key="table">
          <span>{{ table }}</span>
          <span v-if="isHere(place.name, table)" class="quiet">is in this study</span>
          <button
            v-else-if="study.role !== 'reader'"
            class="act"
            :disabled="!!asking"
            :aria-label="`Link it: ${table}`"
            @click="link(place.name, table)"
          >
            {{ asking === `${place.name}/${table}` ? 'Linking it' : 'Link it' }}
          </button>
        </li>
      </ul>
    </div>
  </section>
</template>

<style scoped>
.places {
  display: grid;
  gap: 14px;
  max-width: 780px;
}
h3 {
  font-size: 1.05rem;
}
.away {
  color: var(--care);
}
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(160px, 320px) auto;
  gap: 14px;
  justify-content: start;
  border-left: 2px solid var(--hairline);
  padding: 2px 0 2px 14px;
  overflow-wrap: anywhere;
}
</style>
