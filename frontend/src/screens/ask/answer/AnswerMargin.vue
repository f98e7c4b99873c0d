<script setup lang="ts">
/** Beside the answer: what to mind, what to ask next, and the sentence for the paper. */
import { computed } from 'vue'
import { useRoute } from 'vue-router'

import { usePanels } from '@/api/answers'
import { useCopied } from '@/parts/useCopied'
import { useAsking } from '../useAsking'
import CheckList from './CheckList.vue'

const emit = defineEmits<{ 'follow-up': [] }>()

const route = useRoute()
const { answer, asked, change, isOld, mayChange, study } = useAsking()
/** The question in view, where it is kept in the line. */
const savedId = computed(() => String(route?.params.question ?? ''))
const { wasCopied, copy } = useCopied()

/** Some checks need what only a panel works out: they come a moment later. */
const panels = usePanels(asked, () =>
  isOld.value ? [] : answer.value.panels.flatMap(({ name, checks }) => (checks ? [name] : [])),
)
const order = { fail: 0, care: 1, ok: 2 }
const checks = computed(() =>
  [...answer.value.checks, ...panels.value.flatMap((panel) => panel.checks)].sort(
    (a, b) => order[a.status] - order[b.status],
  ),
)
const words = computed(() =>
  [answer.value.write_up, ...panels.value.map((panel) => panel.write_up)].filter(Boolean).join(' '),
)
</script>

<template>
  <aside class="margin" aria-label="Beside the answer">
    <section>
      <h2 class="overline">Checks</h2>
      <CheckList :checks="checks" />
    </section>
    <section>
      <h2 class="overline">Next</h2>
      <p v-for="step in answer.next_steps" :key="step.label" class="step">
        <button class="act" @click="change(step.question)">{{ step.label }}</button>
      </p>
      <p v-if="mayChange" class="step">
        <button class="act" @click="emit('follow-up')">Keep this and follow up</button>
      </p>
      <p v-if="savedId" class="step">
        <router-link
          class="act"
          :to="{ name: 'compare', params: { study: study.id }, query: { of: savedId } }"
          >Compare with…</router-link
        >
      </p>
    </section>
    <section>
      <h2 class="overline">To write up</h2>
      <div class="paper">
        <p>{{ words }}</p>
        <button class="act" @click="copy(words)">{{ wasCopied ? 'Copied' : 'Copy' }}</button>
      </div>
    </section>
  </aside>
</template>

<style scoped>
.margin {
  padding: 18px 20px;
  border-left: 1px solid var(--hairline);
  font-size: 0.93rem;
  display: flex;
  flex-direction: column;
  gap: 18px;
  overflow-wrap: anywhere;
}
.step {
  margin-bottom: 6px;
}
.paper {
  background: var(--sheet);
  border: 1px solid var(--hairline);
  border-radius: 8px;
  padding: 10px 12px;
}
.paper p {
  margin-bottom: 6px;
}
</style>
