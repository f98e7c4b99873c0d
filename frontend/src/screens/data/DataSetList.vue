<script setup lang="ts">
/** The data sets of a study: what each comes from, the one in view, and ways to bring more. */
import type { DataSet, Study } from '@/api/types'
import { fileSize, plural } from '@/design/numbers'
import { madeWords } from './bring/recipes'
import ReadAgain from './ReadAgain.vue'

const props = defineProps<{
  study: Study
  datasets: readonly DataSet[]
  current: DataSet
  mayChange: boolean
}>()
const emit = defineEmits<{
  turn: [way: 'file' | 'typed' | 'newer' | 'lent' | 'linked']
  remove: [dataset: DataSet]
}>()

const day = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

/** What it comes from: its file, or the data sets it is made of. */
function originOf({ made, file_name, size, lender, place }: DataSet): string {
  if (place) return `stays in ${place}`
  if (lender) return `lent by ${lender}`
  if (!made) return `${file_name}, ${fileSize(size)}`
  const named = made.sources.map((id) => props.datasets.find((each) => each.id === id)?.name)
  return `${madeWords[made.recipe]} ${named.map((name) => name ?? 'one that was deleted').join(' and ')}`
}
</script>

<template>
  <div class="rail">
    <ul class="sources" aria-label="Data sets">
      <li
        v-for="dataset in datasets"
        :key="dataset.id"
        class="source"
        :class="{ on: dataset.id === current.id }"
      >
        <router-link
          :to="{ name: 'data', params: { study: study.id, dataset: dataset.id } }"
          class="name"
          :aria-current="dataset.id === current.id ? 'page' : undefined"
          >{{ dataset.name }}</router-link
        >
        <small class="quiet"
          >{{ plural(dataset.rows, dataset.noun_one, dataset.noun_many)
          }}<template v-if="dataset.id === current.id">
            · {{ originOf(dataset) }} · {{ day.format(new Date(dataset.imported_at)) }},
            {{ dataset.imported_by }}</template
          ></small
        >
        <small v-if="dataset.is_draft" class="draft">not confirmed yet</small>
        <small v-if="dataset.terms_asked.length" class="draft">terms to accept</small>
        <small v-if="dataset.made?.trouble" class="draft">could not be made again</small>
        <small v-else-if="dataset.made?.behind.length" class="draft"
          >{{ dataset.made.behind.join(', ') }} changed since</small
        >
        <span v-if="dataset.id === current.id" class="acts">
          <router-link
            v-if="dataset.made"
            class="act"
            :to="{ name: 'made', params: { study: study.id, dataset: dataset.id } }"
            >How it is made</router-link
          >
          <ReadAgain
            v-else-if="dataset.place"
            :study="study"
            :dataset="dataset"
            :may-change="mayChange"
          />
          <button
            v-else-if="mayChange && !dataset.is_draft && !dataset.lender"
            class="act"
            @click="emit('turn', 'newer')"
          >
            Replace by a newer file
          </button>
          <button
            v-if="mayChange"
            class="act"
            :aria-label="`Delete ${dataset.name}`"
            @click="emit('remove', dataset)"
          >
            Delete
          </button>
        </span>
      </li>
    </ul>
    <p v-if="mayChange" class="more">
      <button class="act" @click="emit('turn', 'file')">+ Bring another file</button>
      <button class="act" @click="emit('turn', 'typed')">+ Type a table</button>
      <button class="act" @click="emit('turn', 'lent')">+ From a lender</button>
      <button class="act" @click="emit('turn', 'linked')">+ Link data that stay elsewhere</button>
      <router-link
        class="act"
        :to="{ name: 'bring', params: { study: study.id }, query: { from: current.id } }"
        >+ Bring data sets together</router-link
      >
    </p>
  </div>
</template>

<style scoped>
.rail {
  display: grid;
  align-content: start;
  gap: 12px;
}
.sources {
  list-style: none;
  margin: 0;
  padding: 0;
}
.source {
  display: grid;
  padding: 5px 10px;
  border-left: 2px solid var(--hairline);
  line-height: 1.35;
  overflow-wrap: anywhere;
}
.source.on {
  border-color: var(--pine);
  background: var(--pine-soft);
  border-radius: 0 6px 6px 0;
}
.name {
  font-weight: 600;
  text-decoration: none;
  color: var(--ink);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  margin-top: 2px;
  font-size: 0.93rem;
}
.more {
  display: grid;
  gap: 3px;
  padding-left: 12px;
}
.draft {
  justify-self: start;
  color: var(--care);
  background: var(--care-soft);
  border-radius: 9px;
  padding: 0 9px;
}
</style>
