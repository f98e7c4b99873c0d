<script setup lang="ts">
/** All rows of a data set; only those in view are asked for and drawn. */
import { useQueries } from '@tanstack/vue-query'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { useCodebook } from '@/api/queries'
import type { DataSet, RowsPage, Study } from '@/api/types'
import { count } from '@/design/numbers'
import { titleOf } from '@/parts/kinds'

const props = defineProps<{ study: Study; dataset: DataSet; short?: boolean }>()

const PAGE = 100
const HEIGHT = 28
const WIDTH = 132
const place = ref<HTMLElement>()
const showsCodes = ref(false)
const codebook = useCodebook(
  () => props.study.id,
  () => props.dataset.id,
)
const titles = computed(() => (codebook.data.value ?? []).map(({ variable }) => titleOf(variable)))
const names = computed(() => (codebook.data.value ?? []).map(({ variable }) => variable.name))
const isNumber = computed(() =>
  (codebook.data.value ?? []).map(({ variable }) => variable.kind === 'numeric'),
)

const MOST = 1_000_000 // a browser draws no page longer than so many rows
const rows = useVirtualizer(
  computed(() => ({
    count: Math.min(props.dataset.rows, MOST),
    getScrollElement: () => place.value ?? null,
    estimateSize: () => HEIGHT,
    overscan: 12,
  })),
)
const columns = useVirtualizer(
  computed(() => ({
    count: names.value.length,
    getScrollElement: () => place.value ?? null,
    estimateSize: () => WIDTH,
    horizontal: true,
    overscan: 3,
  })),
)

const paneTop = computed(() => rows.value.getVirtualItems()[0]?.start ?? 0)
const offsets = computed(() => {
  const shown = rows.value.getVirtualItems()
  const pages = new Set(shown.map((row) => Math.floor(row.index / PAGE) * PAGE))
  return [...pages]
})
const pages = useQueries({
  queries: computed(() =>
    offsets.value.map((offset) => ({
      queryKey: [
        'study',
        props.study.id,
        'rows',
        props.dataset.id,
        props.dataset.version,
        showsCodes.value,
        offset,
      ],
      queryFn: () =>
        unwrap(
          client.GET('/api/studies/{study_id}/datasets/{dataset_id}/rows', {
            params: {
              path: { study_id: props.study.id, dataset_id: props.dataset.id },
              query: { offset, limit: PAGE, codes: showsCodes.value },
            },
          }),
        ),
      staleTime: Infinity,
    })),
  ),
})
const loaded = computed(() => {
  const found = new Map<number, RowsPage>()
  for (const page of pages.value) if (page.data) found.set(page.data.offset, page.data)
  return found
})

function cell(row: number, column: number): { text: string; missing: boolean } {
  const offset = Math.floor(row / PAGE) * PAGE
  const page = loaded.value.get(offset)
  if (!page) return { text: '…', missing: true }
  return {
    text: page.rows[row - offset]?.[column] ?? '',
    missing: page.missing[row - offset]?.includes(column) ?? false,
  }
}
</script>

<template>
  <section class="rows" aria-label="Rows">
    <p class="switch">
      <span class="quiet"
        >{{ count(dataset.rows) }} {{ dataset.noun_many
        }}{{ dataset.rows > MOST ? `, the first ${count(MOST)} of them` : '' }}, shown as</span
      >
      <button class="act" :aria-pressed="!showsCodes" @click="showsCodes = false">labels</button>
      <button class="act" :aria-pressed="showsCodes" @click="showsCodes = true">
        codes as in the file
      </button>
      <slot />
    </p>
    <div
      ref="place"
      class="window"
      :class="{ short }"
      tabindex="0"
      role="table"
      aria-label="Rows of the data set"
      :aria-rowcount="dataset.rows + 1"
      :aria-colcount="names.length"
    >
      <div role="rowgroup" class="head">
        <div class="row header" role="row" :style="{ width: `${columns.getTotalSize() + 64}px` }">
          <span class="cell number" role="columnheader">Row</span>
          <span
            v-for="column in columns.getVirtualItems()"
            :key="column.index"
            class="cell"
            role="columnheader"
            :aria-colindex="column.index + 1"
            :class="{ right: isNumber[column.index] }"
            :style="{ left: `${column.start + 64}px`, width: `${WIDTH}px` }"
            :title="`${titles[column.index]} (${names[column.index]})`"
            >{{ showsCodes ? names[column.index] : titles[column.index] }}</span
          >
        </div>
      </div>
      <div
        role="rowgroup"
        class="body"
        :style="{ height: `${rows.getTotalSize()}px`, width: `${columns.getTotalSize() + 64}px` }"
      >
        <!-- Millions of pixels down, positions lose their last digits: rows are placed within a
             layer of their own, by small numbers. -->
        <div class="pane" role="presentation" :style="{ top: `${paneTop}px` }">
          <div
            v-for="row in rows.getVirtualItems()"
            :key="row.index"
            class="row"
            role="row"
            :aria-rowindex="row.index + 2"
            :style="{ top: `${row.start - paneTop}px` }"
          >
            <span class="cell number quiet" role="rowheader">{{ count(row.index + 1) }}</span>
            <span
              v-for="column in columns.getVirtualItems()"
              :key="column.index"
              class="cell"
              role="cell"
              :class="{
                right: isNumber[column.index],
                missing: cell(row.index, column.index).missing,
              }"
              :style="{ left: `${column.start + 64}px`, width: `${WIDTH}px` }"
              >{{ cell(row.index, column.index).text }}</span
            >
          </div>
        </div>
      </div>
    </div>
  </section>
</template>

<style scoped>
.switch {
  display: flex;
  gap: 12px;
  margin-bottom: 8px;
}
.switch .act[aria-pressed='true'] {
  color: var(--ink);
  border-bottom: 2px solid var(--pine);
}
.window {
  flex: 1;
  min-height: 260px;
  overflow: auto;
  background: var(--sheet);
  border: 1px solid var(--hairline);
  border-radius: 8px;
  font-size: 0.9rem;
  contain: strict;
}
.window.short {
  flex: 0 0 260px;
}
.rows {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
}
.head {
  position: sticky;
  top: 0;
  z-index: 2;
  height: 32px;
}
.row.header {
  height: 32px;
  background: var(--sheet);
  border-bottom: 1px solid var(--ink);
  font-weight: 600;
}
.body {
  position: relative;
}
.pane {
  position: absolute;
  width: 100%;
  will-change: transform;
}
.row {
  position: absolute;
  width: 100%;
  height: 28px;
  border-bottom: 1px solid var(--hairline);
}
.cell {
  position: absolute;
  padding: 4px 10px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.cell.number {
  left: 0;
  width: 64px;
  text-align: right;
  position: sticky;
  display: inline-block;
  background: var(--sheet);
  z-index: 1;
}
.right {
  text-align: right;
}
.missing {
  color: var(--quiet);
  font-style: italic;
}
</style>
