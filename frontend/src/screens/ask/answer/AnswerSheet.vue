<script setup lang="ts">
/** An answer: what it says, its headline figures, the sheet of its lens, and what can be opened. */
import { computed } from 'vue'

import RichText from '@/parts/RichText.vue'
import { useAsking } from '../useAsking'
import BesideTable from './BesideTable.vue'
import LeftOut from './LeftOut.vue'
import PanelBox from './PanelBox.vue'
import SampleBar from './SampleBar.vue'
import { lenses } from '../lenses'

const { answer, isOld } = useAsking()
const view = computed(() => lenses[answer.value.lens])
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
    <SampleBar v-if="answer.sample" :sample="answer.sample" />
    <BesideTable v-if="answer.beside" :beside="answer.beside" :noun="answer.counted.noun_one" />
    <component :is="view?.sheet" />
    <ul v-if="answer.reading.notes.length" class="notes">
      <li v-for="note in answer.reading.notes" :key="note"><RichText :text="note" /></li>
    </ul>
    <PanelBox v-for="head in answer.panels" :key="`${answer.lens} ${head.name}`" :head="head" />
    <LeftOut />
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
  max-width: 62em;
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
.figures > div {
  display: flex;
  flex-direction: column;
  justify-content: flex-end;
}
dt {
  max-width: 280px;
  color: var(--quiet);
  font-size: 0.83rem;
  line-height: 1.25;
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
  max-width: 75em;
}
</style>
