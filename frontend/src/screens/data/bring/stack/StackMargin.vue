<script setup lang="ts">
/** Shares data set by data set, what to look at, how rows count, and where to go from here. */
import { computed } from 'vue'

import type { CommonLook, CommonVariable, DataSet, RecipeLook, Stack } from '@/api/types'
import { percent } from '@/design/numbers'
import FindingList from '../FindingList.vue'

const props = defineProps<{
  recipe: Stack
  common: CommonVariable | undefined
  look: RecipeLook | undefined
  commonLook: CommonLook | undefined
  sources: DataSet[]
  mayChange: boolean
}>()
const emit = defineEmits<{ change: [recipe: Stack] }>()

const bars = computed(() =>
  props.sources.map((source, i) => ({
    name: source.name,
    shares: (props.commonLook?.parts[i]?.shares ?? []).map((share, k) => ({
      share,
      label: props.common?.categories[k]?.label ?? '',
    })),
  })),
)
const hasShares = computed(() => bars.value.some(({ shares }) => shares.length))
const findings = computed(() => [
  ...(props.commonLook?.findings ?? []),
  ...(props.look?.findings ?? []),
])
const mayBeSame = computed(() => props.sources.every(({ cases }) => cases.case))
const areWeighted = computed(() =>
  props.sources.every(({ counted_by }) => counted_by.kind === 'design' && counted_by.weights),
)

function put(changes: Partial<Stack>) {
  emit('change', { ...props.recipe, ...changes })
}
</script>

<template>
  <aside class="margin">
    <section v-if="hasShares" aria-label="Shares, data set by data set">
      <h2 class="overline">Shares, data set by data set</h2>
      <figure v-for="bar in bars" :key="bar.name">
        <figcaption>{{ bar.name }}</figcaption>
        <div
          v-if="bar.shares.length"
          class="bar"
          role="img"
          :aria-label="bar.shares.map((s) => `${s.label} ${percent(s.share)}`).join(', ')"
        >
          <span
            v-for="(each, i) in bar.shares"
            :key="i"
            :class="`shade-${i % 5}`"
            :style="{ flexGrow: each.share }"
            :title="`${each.label} ${percent(each.share)}`"
          />
        </div>
        <p v-else class="quiet">nothing placed</p>
      </figure>
    </section>
    <section v-if="findings.length" aria-label="Checks">
      <h2 class="overline">Checks</h2>
      <FindingList :findings="findings" />
    </section>
    <section v-if="mayChange" aria-label="How rows count">
      <h2 class="overline">How rows count</h2>
      <p v-if="!areWeighted" class="quiet">Each once: not every data set has weights.</p>
      <template v-else>
        <label
          v-for="(words, each) in {
            each: 'each once',
            kept: 'by their weights, as they are',
            rescaled: 'by their weights, each data set as many as its rows',
          }"
          :key="each"
          class="choice"
          ><input
            type="radio"
            name="counted"
            :checked="recipe.counted === each"
            @change="put({ counted: each })"
          />
          {{ words }}</label
        >
      </template>
      <label v-if="mayBeSame" class="choice"
        ><input
          type="checkbox"
          :checked="recipe.same_cases"
          @change="put({ same_cases: !recipe.same_cases })"
        />
        the same number means the same case</label
      >
    </section>
  </aside>
</template>

<style scoped src="./shades.css"></style>
<style scoped>
.margin {
  display: grid;
  gap: 18px;
}
figure {
  margin: 0 0 8px;
}
.bar {
  display: flex;
  gap: 1px;
  height: 14px;
}
.bar span {
  flex: 0 1 0;
  min-width: 1px;
}
.choice {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 2px 0;
}
input {
  accent-color: var(--pine);
}
</style>
