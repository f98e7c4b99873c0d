<script setup lang="ts">
/** What can be asked otherwise of a block: its caption, which table or picture, whose percentages. */
import { computed, ref, watch } from 'vue'

import type { Block } from './document'
import { useAnswerParts } from './answerParts'

type Made = Exclude<Block, { content: unknown }>
const props = defineProps<{ block: Made }>()
const emit = defineEmits<{ change: [changes: Record<string, unknown>]; remove: [] }>()

const question = computed(() => ('question' in props.block ? props.block.question : undefined))
const found = useAnswerParts(question)
const hasCaption = computed(() => 'caption' in props.block)
const caption = ref('')
watch(
  () => props.block,
  (block) => (caption.value = 'caption' in block ? (block.caption ?? '') : ''),
  { immediate: true },
)
const value = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <div class="choices" @mousedown.stop>
    <label v-if="hasCaption" class="caption"
      >Caption
      <input
        v-model="caption"
        class="line"
        placeholder="as it writes itself"
        maxlength="1000"
        @change="emit('change', { caption: caption.trim() })"
        @keydown.enter.prevent="emit('change', { caption: caption.trim() })"
      />
    </label>
    <label v-if="block.type === 'table' && found.data.value"
      >Table
      <select
        class="line"
        :value="block.table || found.data.value.tables[0]?.name"
        @change="emit('change', { table: value($event) })"
      >
        <option v-for="each in found.data.value.tables" :key="each.name" :value="each.name">
          {{ each.title }}
        </option>
      </select>
    </label>
    <label v-if="block.type === 'picture' && found.data.value"
      >Picture
      <select
        class="line"
        :value="block.picture || Object.keys(found.data.value.pictures)[0]"
        @change="emit('change', { picture: value($event) })"
      >
        <option v-for="(_, name) in found.data.value.pictures" :key="name" :value="name">
          {{ name }}
        </option>
      </select>
    </label>
    <label v-if="block.type === 'lead'"
      ><input
        type="checkbox"
        :checked="block.in_print"
        @change="emit('change', { in_print: !block.in_print })"
      />
      as a paper prints it
    </label>
    <template v-if="block.type === 'characteristics'">
      <label
        >Percentages
        <select
          class="line"
          :value="block.within"
          @change="emit('change', { within: value($event) })"
        >
          <option value="outcome">down each answer to the outcome</option>
          <option value="characteristic">along each characteristic</option>
        </select>
      </label>
      <label
        >Numbers
        <select
          class="line"
          :value="block.numbers"
          @change="emit('change', { numbers: value($event) })"
        >
          <option value="mean">mean (SD)</option>
          <option value="median">median (quartiles)</option>
        </select>
      </label>
      <label
        ><input
          type="checkbox"
          :checked="block.tests"
          @change="emit('change', { tests: !block.tests })"
        />
        with tests
      </label>
    </template>
    <button class="act" @click="emit('remove')">Take out</button>
  </div>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: end;
  font-family: var(--sans);
  font-size: 0.87rem;
  line-height: 1.35;
  padding-top: 8px;
}
.choices .line {
  text-align: left;
}
.caption {
  flex: 1 1 100%;
  display: grid;
}
</style>
