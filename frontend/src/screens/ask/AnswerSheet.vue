<script setup lang="ts">
/** What every lens shows the same way: lead, headline figures, evidence, notes. */
import type { Answer } from '@/api/types'
import RichText from '@/parts/RichText.vue'

defineProps<{ answer: Answer; isOld: boolean }>()
</script>

<template>
  <article class="sheet" :class="{ old: isOld }" :aria-busy="isOld" aria-label="Answer">
    <p class="lead serif"><RichText :text="answer.reading.lead" /></p>
    <dl class="figures">
      <div v-for="figure in answer.reading.figures" :key="figure.label" :title="figure.exact">
        <dt>{{ figure.label }}</dt>
        <dd>
          <b>{{ figure.value }}</b> {{ figure.detail }}
        </dd>
      </div>
    </dl>
    <slot />
    <ul v-if="answer.reading.notes.length" class="notes">
      <li v-for="note in answer.reading.notes" :key="note"><RichText :text="note" /></li>
    </ul>
    <slot name="deeper" />
  </article>
</template>

<style scoped>
.sheet {
  background: var(--sheet);
  border: 1px solid var(--hairline);
  border-top: 0;
  border-radius: 0 0 8px 8px;
  padding: 16px 18px 18px;
  transition: opacity 0.15s;
}
.sheet.old {
  opacity: 0.6;
}
.lead {
  font-size: 1.22rem;
  line-height: 1.4;
  margin-bottom: 12px;
  overflow-wrap: anywhere;
}
.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 26px;
  margin: 0 0 12px;
  padding-bottom: 12px;
  border-bottom: 1px solid var(--hairline);
}
dt {
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--quiet);
  font-size: 0.83rem;
}
dd {
  margin: 0;
  color: var(--quiet);
  font-size: 0.87rem;
}
dd b {
  color: var(--ink);
  font-size: 1.25rem;
  font-weight: 600;
}
.notes {
  margin: 10px 0 0;
  padding: 10px 0 0 16px;
  border-top: 1px solid var(--hairline);
  font-size: 0.93rem;
  color: var(--quiet);
}
.notes li {
  margin-bottom: 3px;
}
</style>
