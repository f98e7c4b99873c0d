<script lang="ts">
import type { DataSet } from '@/api/types'

/** How a file is read otherwise. */
export type ReadAs = Partial<
  Pick<DataSet, 'delimiter' | 'encoding' | 'decimal_comma' | 'sheet' | 'header_row'>
>
</script>

<script setup lang="ts">
/** How a new file was read, to be put right: separators, characters, sheet; and its codebook. */
defineProps<{ dataset: DataSet }>()
const emit = defineEmits<{ reread: [options: ReadAs]; 'describe-by': [file: File | undefined] }>()

/** The field is emptied, so that the same file can be chosen again. */
function choose(field: HTMLInputElement) {
  emit('describe-by', field.files?.[0])
  field.value = ''
}

const delimiters = [
  { title: 'comma', value: ',' },
  { title: 'semicolon', value: ';' },
  { title: 'tab', value: '\t' },
  { title: 'bar', value: '|' },
]
const encodings = ['utf-8', 'utf-8-sig', 'cp1252', 'latin-1', 'utf-16']
</script>

<template>
  <div class="options">
    <template v-if="dataset.delimiter">
      <v-select
        :model-value="dataset.delimiter"
        :items="delimiters"
        label="Cells separated by"
        @update:model-value="emit('reread', { delimiter: $event })"
      />
      <v-select
        :model-value="dataset.encoding"
        :items="encodings"
        label="Characters"
        @update:model-value="emit('reread', { encoding: $event })"
      />
      <v-select
        :model-value="dataset.decimal_comma"
        :items="[
          { title: '3.5 with a point', value: false },
          { title: '3,5 with a comma', value: true },
        ]"
        label="Numbers written"
        @update:model-value="emit('reread', { decimal_comma: $event })"
      />
    </template>
    <template v-if="dataset.sheets.length">
      <v-select
        :model-value="dataset.sheet"
        :items="dataset.sheets"
        label="Sheet"
        @update:model-value="emit('reread', { sheet: $event })"
      />
      <v-text-field
        :model-value="dataset.header_row"
        type="number"
        min="1"
        label="Names in row"
        @change="
          emit('reread', { header_row: Number(($event.target as HTMLInputElement).value) || 1 })
        "
      />
    </template>
    <label class="act bring">
      Bring a codebook…
      <input
        type="file"
        class="visually-hidden"
        accept=".xml,.json,.csv,.tsv,.tab,.txt,.xlsx,.xlsm,.ods"
        @change="choose($event.target as HTMLInputElement)"
      />
    </label>
  </div>
</template>

<style scoped>
.options {
  display: flex;
  gap: 12px;
  max-width: 820px;
}
.bring {
  align-self: center;
  white-space: nowrap;
}
.bring:focus-within {
  outline: 2px solid var(--pine);
  outline-offset: 3px;
}
@media (max-width: 800px) {
  .options {
    flex-wrap: wrap;
  }
}
</style>
