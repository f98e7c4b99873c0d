<script setup lang="ts">
/** What one answer gives: sentences, tables, pictures, and its numbers to click into the text. */
import { computed } from 'vue'

import type { Schemas } from '@/api/types'
import PrintedTable from '@/parts/PrintedTable.vue'
import { useAnswerParts } from './answerParts'
import type { Block } from './document'

const props = defineProps<{ question: Schemas['QuestionOut'] }>()
const emit = defineEmits<{ put: [block: Block]; take: [key: string] }>()

const id = computed(() => props.question.id)
const parts = useAnswerParts(id)
const tables = computed(() => parts.data.value?.tables ?? [])
const pictures = computed(() => Object.keys(parts.data.value?.pictures ?? {}))
const varies = computed(
  () => props.question.question.vary_with.length + props.question.question.allowing_for.length > 0,
)
const plain = computed(() => ({ question: id.value, caption: '' }))
</script>

<template>
  <p v-if="parts.error.value" class="trouble">{{ (parts.error.value as Error).message }}</p>
  <p v-else-if="parts.isPending.value" class="quiet" role="status">Asking it</p>
  <template v-else>
    <p class="gives">
      <button class="act" @click="emit('put', { type: 'lead', question: id, in_print: true })">
        Sentence
      </button>
      <button
        v-for="each in tables"
        :key="each.name"
        class="act"
        :title="each.title"
        @click="emit('put', { type: 'table', table: each.name, ...plain })"
      >
        Table: {{ each.title }}
      </button>
      <button
        v-for="name in pictures"
        :key="name"
        class="act"
        @click="emit('put', { type: 'picture', picture: name, ...plain })"
      >
        Picture: {{ name.replaceAll('_', ' ') }}
      </button>
      <button class="act" @click="emit('put', { type: 'flow', ...plain })">Who was counted</button>
      <button class="act" @click="emit('put', { type: 'frequencies', ...plain })">
        Frequencies
      </button>
      <button
        v-if="varies"
        class="act"
        @click="
          emit('put', {
            type: 'characteristics',
            within: 'outcome',
            numbers: 'mean',
            tests: false,
            ...plain,
          })
        "
      >
        Characteristics
      </button>
    </p>
    <details>
      <summary class="quiet">Its numbers: click one into the text</summary>
      <template v-for="each in [...tables, parts.data.value!.flow]" :key="each.name">
        <PrintedTable
          v-if="each.rows.length"
          :table="each"
          :caption="each.title"
          gives-numbers
          @take="({ key }) => emit('take', key)"
        />
      </template>
    </details>
  </template>
</template>

<style scoped>
.gives {
  display: grid;
  gap: 3px;
  padding: 4px 0;
  font-size: 0.93rem;
}
.gives .act {
  font-weight: 400;
}
summary {
  cursor: pointer;
  font-size: 0.93rem;
}
details :deep(.printed) {
  font-size: 0.8rem;
}
details :deep(:is(th, td)) {
  padding-left: 6px;
}
.trouble {
  color: var(--fail);
  font-size: 0.93rem;
}
</style>
