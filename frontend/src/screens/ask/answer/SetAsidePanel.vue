<script setup lang="ts">
/** The rows an answer sets aside, why, and how they compare with those counted. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { count, pEquals, percent } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useAsking } from '../useAsking'

const PAGE = 50
const { answer, dataset, study } = useAsking()
const emit = defineEmits<{ close: [] }>()

const offset = ref(0)
const aside = useQuery({
  queryKey: computed(() => [
    'study',
    study.value.id,
    'set-aside',
    dataset.value.id,
    answer.value.question,
    offset.value,
  ]),
  queryFn: () =>
    unwrap(
      client.POST('/api/studies/{study_id}/answer/set-aside', {
        params: { path: { study_id: study.value.id } },
        body: {
          dataset: dataset.value.id,
          question: answer.value.question,
          offset: offset.value,
          limit: PAGE,
        },
      }),
    ),
  placeholderData: (previous) => previous,
})
const found = computed(() => aside.data.value)

function told(p: number | null): string {
  if (p == null) return 'Nobody set aside answered this.'
  return `Among those who answered it: ${pEquals(p)}`
}
</script>

<template>
  <v-dialog
    :model-value="true"
    max-width="1080"
    aria-label="Those set aside"
    @update:model-value="emit('close')"
  >
    <div class="popover aside">
      <div class="head">
        <h2 class="serif">Set aside, and whether they differ</h2>
        <button class="act" @click="emit('close')">Close</button>
      </div>
      <ErrorNote :error="aside.error.value" />
      <template v-if="found">
        <div class="compared">
          <table v-for="each in found.comparison" :key="each.title">
            <thead>
              <tr>
                <th scope="col">{{ each.title }}</th>
                <th scope="col">counted</th>
                <th scope="col">set aside</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="given in each.answers" :key="given.label">
                <th scope="row">{{ given.label }}</th>
                <td>{{ percent(given.counted) }}</td>
                <td>{{ percent(given.set_aside) }}</td>
              </tr>
            </tbody>
            <tfoot>
              <tr>
                <td colspan="3" class="quiet">{{ told(each.p) }}</td>
              </tr>
            </tfoot>
          </table>
        </div>
        <div class="rows" tabindex="0" role="region" aria-label="Rows set aside">
          <table>
            <thead>
              <tr>
                <th scope="col">Row</th>
                <th scope="col">No answer to</th>
                <th v-for="name in found.names" :key="name" scope="col">{{ name }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="row in found.rows" :key="row.row">
                <th scope="row">{{ count(row.row) }}</th>
                <td class="why">{{ row.lacking.join(', ') }}</td>
                <td v-for="(cell, k) in row.cells" :key="k">{{ cell }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p class="pages">
          <span class="quiet"
            >{{ count(Math.min(offset + 1, found.total)) }} to
            {{ count(Math.min(offset + PAGE, found.total)) }} of {{ count(found.total) }}</span
          >
          <button class="act" :disabled="offset === 0" @click="offset -= PAGE">Before</button>
          <button class="act" :disabled="offset + PAGE >= found.total" @click="offset += PAGE">
            After
          </button>
        </p>
      </template>
    </div>
  </v-dialog>
</template>

<style scoped>
.aside {
  padding: 18px 22px;
  display: grid;
  gap: 14px;
  max-height: 86vh;
  overflow-y: auto;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
h2 {
  font-size: 1.3rem;
}
.compared {
  display: flex;
  flex-wrap: wrap;
  gap: 14px 40px;
}
table {
  border-collapse: collapse;
  font-size: 0.93rem;
}
th,
td {
  text-align: right;
  padding: 3px 10px 3px 0;
  border-bottom: 1px solid var(--hairline);
  white-space: nowrap;
}
th:first-child,
.rows th,
.rows td {
  text-align: left;
  font-weight: 400;
}
thead th,
.rows thead th {
  font-weight: 600;
  border-color: var(--ink);
}
.rows {
  overflow: auto;
  max-height: 40vh;
}
.why {
  color: var(--care);
}
.pages {
  display: flex;
  gap: 18px;
}
</style>
