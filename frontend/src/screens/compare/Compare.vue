<script setup lang="ts">
/** Answers side by side: chosen from the line of questions, or one question asked in every group. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import { useCodebooks, useQuestions } from '@/api/queries'
import type { FigureSpec, Question, Schemas, Study } from '@/api/types'
import { useNotices } from '@/notices'
import ErrorNote from '@/parts/ErrorNote.vue'
import FigureView from '@/parts/FigureView.vue'
import CompareChoice from './CompareChoice.vue'
import CompareTable from './CompareTable.vue'
import { idsIn, itemOf, MOST, type Item } from './items'

const props = defineProps<{ study: Study }>()
const route = useRoute()
const router = useRouter()
const notices = useNotices()
const questions = useQuestions(() => props.study.id)

const asked = computed(() =>
  (questions.data.value ?? []).filter(({ question }) => question.outcome),
)
const chosen = computed(() => idsIn(route.query.of))
const data = computed(() => [...new Set(asked.value.map(({ dataset }) => dataset))])
const codebooks = useCodebooks(
  () => props.study.id,
  () => data.value,
)
const codebookOf = (dataset: string) => codebooks.value[data.value.indexOf(dataset)]

/** One question in every group, or what was changed here: these stand instead of the chosen ones. */
const own = ref<Item[]>()
watch(chosen, () => (own.value = undefined))
const items = computed<Item[]>(
  () =>
    own.value ??
    chosen.value.flatMap((id) => {
      const saved = asked.value.find((each) => each.id === id)
      return saved ? [itemOf(saved, codebookOf(saved.dataset))] : []
    }),
)
const compared = useQuery({
  queryKey: computed(() => ['study', props.study.id, 'compare', items.value]),
  queryFn: () =>
    unwrap(
      client.POST('/api/studies/{study_id}/compare', {
        params: { path: { study_id: props.study.id } },
        body: { questions: items.value },
      }),
    ),
  enabled: () => items.value.length > 1,
  placeholderData: (previous) => previous,
  retry: false,
})
const shown = computed(() =>
  items.value.length > 1
    ? (compared.data.value as Schemas['ComparisonOut'] | undefined)
    : undefined,
)
const pictures = computed(
  () => Object.entries(shown.value?.figures ?? {}) as [string, FigureSpec][],
)

function turn(id: string) {
  const next = chosen.value.includes(id)
    ? chosen.value.filter((each) => each !== id)
    : [...chosen.value, id]
  if (next.length > MOST) notices.say(`At most ${MOST} answers stand side by side.`)
  else void router.replace({ query: next.length ? { of: next.join(',') } : {} })
}

async function spread(id: string, by: string) {
  const saved = asked.value.find((each) => each.id === id)
  if (!saved) return
  try {
    const found = await unwrap(
      client.POST('/api/studies/{study_id}/compare/spread', {
        params: { path: { study_id: props.study.id } },
        body: { dataset: saved.dataset, question: saved.question, by },
      }),
    )
    own.value = found as Item[]
  } catch (error) {
    notices.complain(error)
  }
}

function change(at: number, question: Question) {
  own.value = items.value.map((item, i) => (i === at ? { ...item, question } : item))
}

function toFront(at: number) {
  const now = [...items.value]
  now.unshift(...now.splice(at, 1))
  own.value = now
}
</script>

<template>
  <main class="compare">
    <CompareChoice
      :questions="asked"
      :chosen="own ? [] : chosen"
      :codebook-of="codebookOf"
      @turn="turn"
      @spread="spread"
    />
    <section class="middle" aria-label="Answers side by side">
      <p v-if="own" class="quiet">
        Not as they stand in the line of questions.
        <button class="act" @click="own = undefined">Back to those chosen</button>
      </p>
      <ErrorNote :error="compared.error.value ?? undefined" />
      <p v-if="items.length < 2" class="serif empty">
        Choose two to eight answers, or one question and a variable in each group of which it is to
        be asked.
      </p>
      <template v-else-if="shown">
        <CompareTable :comparison="shown.comparison" @change="change" @to-front="toFront" />
        <p v-for="each in shown.comparison.nested" :key="each.says" class="serif nested">
          {{ each.says }}
        </p>
        <section
          v-for="[measure, spec] in pictures"
          :key="measure"
          :aria-label="`${measure}, pictured`"
        >
          <FigureView
            :spec="spec"
            :label="`${measure}, answer by answer`"
            :name="`compare ${measure}`"
          />
        </section>
      </template>
      <p v-else-if="compared.isPending.value" class="quiet" role="status">Asking each of them</p>
    </section>
  </main>
</template>

<style scoped>
.compare {
  display: grid;
  grid-template-columns: 250px minmax(0, 1fr);
  gap: 26px;
  padding: 16px 24px 30px;
}
.middle {
  display: grid;
  gap: 18px;
  align-content: start;
}
.nested {
  font-size: 1.1rem;
}
.empty {
  font-size: 1.2rem;
  max-width: 32em;
}
@media (max-width: 900px) {
  .compare {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
