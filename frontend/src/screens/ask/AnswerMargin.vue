<script setup lang="ts">
/** Beside the answer: what to mind, what to ask next, and the sentence for the paper. */
import { ref } from 'vue'

import type { Answer, Question, Study } from '@/api/types'
import { useNotices } from '@/notices'

const props = defineProps<{ answer: Answer; study: Study; datasetId: string; mayChange: boolean }>()
const emit = defineEmits<{ ask: [question: Question]; 'follow-up': [] }>()

const notices = useNotices()
const signs = { ok: '✓', care: '!', fail: '✕' }
const words = { ok: 'Holds', care: 'Take care', fail: 'Does not hold' }
const wasCopied = ref(false)

async function copy() {
  try {
    await navigator.clipboard.writeText(props.answer.write_up)
    wasCopied.value = true
    setTimeout(() => (wasCopied.value = false), 2500)
  } catch {
    notices.complain('The browser did not allow copying. Select the text and copy it yourself.')
  }
}
</script>

<template>
  <aside class="margin" aria-label="Beside the answer">
    <section>
      <h2 class="overline">Checks</h2>
      <ul class="checks">
        <li v-for="check in answer.checks" :key="check.id" class="check">
          <span class="sign" :class="check.status" role="img" :aria-label="words[check.status]">{{
            signs[check.status]
          }}</span>
          <div>
            {{ check.text }}
            <template v-for="remedy in check.remedies" :key="remedy.label">
              <button
                v-if="remedy.question"
                class="act remedy"
                @click="emit('ask', remedy.question as Question)"
              >
                {{ remedy.label }}
              </button>
              <router-link
                v-else-if="remedy.codebook_variable"
                class="act remedy"
                :to="{
                  name: 'codebook',
                  params: { study: study.id, dataset: datasetId },
                  query: { variable: remedy.codebook_variable },
                }"
                >{{ remedy.label }}</router-link
              >
            </template>
          </div>
        </li>
      </ul>
    </section>
    <section>
      <h2 class="overline">Next</h2>
      <p v-for="step in answer.next_steps" :key="step.label" class="step">
        <button class="act" @click="emit('ask', step.question)">{{ step.label }}</button>
      </p>
      <p v-if="mayChange" class="step">
        <button class="act" @click="emit('follow-up')">Keep this and follow up</button>
      </p>
    </section>
    <section>
      <h2 class="overline">To write up</h2>
      <div class="paper">
        <p>{{ answer.write_up }}</p>
        <button class="act" @click="copy">{{ wasCopied ? 'Copied' : 'Copy' }}</button>
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
.checks {
  list-style: none;
  margin: 0;
  padding: 0;
}
.check {
  display: flex;
  gap: 9px;
  margin-bottom: 9px;
}
.sign {
  flex: none;
  width: 18px;
  height: 18px;
  margin-top: 1px;
  border-radius: 50%;
  font-size: 0.75rem;
  line-height: 18px;
  text-align: center;
  font-weight: 700;
}
.sign.ok {
  background: var(--pine-soft);
  color: var(--pine);
}
.sign.care {
  background: var(--care-soft);
  color: var(--care);
}
.sign.fail {
  background: var(--fail-soft);
  color: var(--fail);
}
.remedy {
  display: block;
  margin-top: 2px;
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
