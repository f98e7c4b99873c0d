<script setup lang="ts">
/** The workspace: lines of questions, the sentence and its answer, and what to mind. */
import { computed, ref, toRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, Problem, unwrap } from '@/api/client'
import { keys, useAnswer, useCodebook, useDatasets, useQuestions, useRefresh } from '@/api/queries'
import type { Lens, Question, SavedQuestion, Study } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useInView, useKeptInView } from '@/inView'
import { useNotices } from '@/notices'
import { useShortcuts } from '@/shortcuts'
import AnswerMargin from './AnswerMargin.vue'
import CountStrip from './CountStrip.vue'
import GlancePanel from './GlancePanel.vue'
import LensSheet from './LensSheet.vue'
import LensTabs from './LensTabs.vue'
import QuestionLines from './QuestionLines.vue'
import SentenceEditor from './SentenceEditor.vue'
import SetAsidePanel from './SetAsidePanel.vue'
import { withOptions } from './options'
import { useLongAnswer } from './useLongAnswer'
import { useSavedQuestion } from './useSavedQuestion'
import { emptyQuestion, entryOf, isAsked } from './words'

const props = defineProps<{ study: Study }>()
const route = useRoute()
const router = useRouter()
const notices = useNotices()
const refresh = useRefresh()
const inView = useInView()

const datasets = useDatasets(() => props.study.id)
const questions = useQuestions(() => props.study.id)
const ready = computed(() => datasets.data.value?.filter((dataset) => !dataset.is_draft) ?? [])
const saved = computed<SavedQuestion | undefined>(() => {
  const all = questions.data.value ?? []
  const here = inView.byStudy[props.study.id]
  return (
    all.find(({ id }) => id === route.params.question) ??
    all.find(({ dataset }) => dataset === here) ??
    all[0]
  )
})
const dataset = computed(
  () => ready.value.find(({ id }) => id === saved.value?.dataset) ?? ready.value[0],
)
const codebook = useCodebook(
  () => props.study.id,
  () => dataset.value?.id,
)
useKeptInView(
  () => props.study.id,
  () => dataset.value?.id,
)
const { question, change, back, mayChange } = useSavedQuestion(toRef(props, 'study'), saved)
const answer = useAnswer(
  () => props.study.id,
  () => dataset.value?.id,
  () => dataset.value?.version,
  question,
  () => isAsked(question.value),
)
const long = useLongAnswer(() => props.study.id, answer)
const isSlow = long.isSlow
const problem = computed(() => (isAsked(question.value) ? answer.error.value : null))
const shown = computed(() =>
  isAsked(question.value) && !problem.value ? answer.data.value : undefined,
)
const isReady = computed(() => !!codebook.data.value && !!questions.data.value)
/** A design is recorded for the data, and the question uses none or another. */
const offersDesign = computed(() => {
  const recorded = dataset.value?.counted_by
  const asked = question.value?.counted_by
  if (recorded?.kind !== 'design' || !asked || asked.kind === 'counts') return false
  if (asked.kind === 'each') return true
  const parts = ['weights', 'strata', 'clusters', 'single', 'errors'] as const
  return parts.some((part) => asked[part] !== recorded[part])
})
// The short form of what takes long stands in the line of questions once it is answered.
watch(shown, (now) => {
  if (now && !answer.isPlaceholderData.value && saved.value?.headline === null)
    void refresh(...keys.questions(props.study.id))
})
const seesAside = ref(false)
const seesAll = ref(false)

/** The question goes back to what it was before the answer that is stopped. */
async function stop() {
  await long.stop()
  back()
}

const sentence = ref<InstanceType<typeof SentenceEditor>>()
const sheet = ref<InstanceType<typeof LensSheet>>()

async function create(asked: Question, parent?: SavedQuestion, about = dataset.value) {
  if (!about) return
  try {
    const made = await unwrap(
      client.POST('/api/studies/{study_id}/questions', {
        params: { path: { study_id: props.study.id } },
        body: {
          dataset: about.id,
          question: asked,
          parent: parent ? (parent.parent ?? parent.id) : null,
          after: parent?.id ?? null,
          title: '',
        },
      }),
    )
    await refresh(...keys.questions(props.study.id))
    await router.push({ name: 'ask', params: { question: made.id } })
    return made
  } catch (error) {
    notices.complain(error)
  }
}

// The sentence may not be there yet when the first question is made.
let opensOutcome = false
watch(sentence, (editor) => {
  if (editor && opensOutcome) editor.open('outcome')
  if (editor) opensOutcome = false
})

async function newQuestion(about?: string) {
  if (!isReady.value) return
  const chosen = ready.value.find(({ id }) => id === about) ?? dataset.value
  const asked = emptyQuestion()
  if (chosen) asked.counted_by = chosen.counted_by
  if (!(await create(asked, undefined, chosen))) return
  if (sentence.value) sentence.value.open('outcome')
  else opensOutcome = true
}

async function askAbout(variable: string) {
  seesAll.value = false
  const asked = { ...emptyQuestion(), outcome: { variable, event: [] } }
  if (dataset.value) asked.counted_by = dataset.value.counted_by
  await create(asked)
}

function chooseLens(lens: Lens) {
  if (question.value && question.value.lens !== lens) change({ ...question.value, lens })
}

/** Why a lens cannot answer the question as it stands. */
const refused = computed<Partial<Record<Lens, string>>>(() => {
  const asked = question.value
  const both = (why: string) => ({ crosstab: why, proportions: why, odds: why })
  if (!asked?.vary_with.length) return both('First choose what it may vary with')
  const outcome = entryOf(codebook.data.value, asked.outcome?.variable)?.variable
  const categories = 'The outcome is not answered in categories'
  // A number beside a counts column: so many events out of so many.
  if (outcome?.kind === 'numeric' && asked.counted_by.kind === 'counts')
    return { crosstab: categories, proportions: categories }
  if (outcome?.kind === 'numeric' || outcome?.kind === 'text') return both(categories)
  const hasEvent = asked.outcome?.event.length || outcome?.event.length
  if (!hasEvent) {
    const why = 'First choose which answer is the event'
    return { proportions: why, odds: why }
  }
  const first = entryOf(codebook.data.value, asked.vary_with[0]?.variable)?.variable
  return first?.kind === 'numeric'
    ? {
        crosstab: 'It varies with a number: band it',
        proportions: 'It varies with a number: band it',
      }
    : {}
})

function followUp() {
  if (question.value && saved.value) create(question.value, saved.value)
}

watch(
  () => [saved.value?.id, codebook.data.value] as const,
  ([id]) => {
    if (id && route.name === 'ask' && route.params.question !== id)
      router.replace({ name: 'ask', params: { question: id } })
  },
)

useShortcuts('Ask', [
  { key: 'a', words: 'Among', run: () => sentence.value?.open('among') },
  { key: 'o', words: 'Outcome and event', run: () => sentence.value?.open('outcome') },
  { key: 'v', words: 'Vary with, and the reference', run: () => sentence.value?.open('vary_with') },
  { key: 't', words: 'Turn the event round', run: () => sentence.value?.turnEvent() },
  { key: 'x', words: 'Exchange rows and columns', run: () => sheet.value?.transpose() },
  { key: 'u', words: 'Take back the last change of the sentence', run: back },
  { key: 'l', words: 'Allowing for', run: () => sentence.value?.open('allowing_for') },
  { key: 'w', words: 'Within each', run: () => sentence.value?.open('within') },
  { key: 'g', words: 'All variables at a glance', run: () => (seesAll.value = true) },
  { key: 'n', words: 'New question', run: () => newQuestion() },
  { key: 'f', words: 'Follow-up question', run: followUp },
])
</script>

<template>
  <p v-if="datasets.data.value && !ready.length" class="serif empty">
    A question needs data to ask.
    <router-link :to="{ name: 'data' }">Bring a file</router-link>
  </p>
  <div v-else class="ask">
    <QuestionLines
      :study="study"
      :questions="questions.data.value"
      :current="saved?.id"
      :codebook="codebook.data.value"
      :may-change="mayChange"
      class="lines"
      :is-ready="isReady"
      :datasets="ready"
      @new="newQuestion"
      @see-all="seesAll = true"
    />
    <main class="middle">
      <ErrorNote v-if="questions.isError.value" :error="questions.error.value" />
      <p v-else-if="questions.data.value && !saved" class="serif empty">
        Nothing has been asked yet.
        <button v-if="mayChange" class="act" @click="newQuestion()">Ask the first question</button>
      </p>
      <template v-else-if="question && codebook.data.value && dataset">
        <SentenceEditor
          ref="sentence"
          :question="question"
          :codebook="codebook.data.value"
          :dataset="dataset"
          :study="study"
          :problem="problem instanceof Problem ? problem : undefined"
          @change="change"
        />
        <ErrorNote v-if="problem" :error="problem" class="problem" />
        <p v-if="problem instanceof Problem && mayChange">
          <button
            v-for="remedy in problem.details.remedies"
            :key="remedy.label"
            class="act"
            @click="change(withOptions(question, remedy.options))"
          >
            {{ remedy.label }}
          </button>
        </p>
        <LensTabs
          v-if="problem"
          :lens="question.lens"
          :refused="refused"
          class="problem"
          @choose="chooseLens"
        />
        <p v-else-if="!isAsked(question)" class="serif hint">
          {{
            question.outcome
              ? 'Now choose what it may vary with.'
              : 'Choose the outcome: what is the question about?'
          }}
        </p>
        <p v-if="isSlow" class="quiet slow" role="status">
          Counting…
          <template v-if="long.percentDone.value">{{ long.percentDone.value }}% done. </template>
          <button class="act" @click="stop">Stop</button>
        </p>
        <template v-if="shown">
          <CountStrip :counted="shown.answer.counted" @see="seesAside = true" />
          <SetAsidePanel
            v-if="seesAside"
            :study="study"
            :dataset-id="dataset.id"
            :question="shown.answer.question"
            @close="seesAside = false"
          />
          <p v-if="offersDesign" class="quiet design">
            {{
              question.counted_by.kind === 'each'
                ? 'A design is recorded for these data, but not used here:'
                : 'The design used here is not the one recorded for the data:'
            }}
            <button class="act" @click="change({ ...question, counted_by: dataset.counted_by })">
              with the design
            </button>
          </p>
          <LensTabs :lens="question.lens" :refused="refused" @choose="chooseLens" />
          <LensSheet
            ref="sheet"
            :shown="shown"
            :question="question"
            :codebook="codebook.data.value"
            :study="study"
            :dataset="dataset"
            :is-old="answer.isPlaceholderData.value"
            @change="change"
          />
        </template>
        <p
          v-else-if="isAsked(question) && answer.isFetching.value && !isSlow"
          class="quiet hint"
          role="status"
        >
          Counting…
        </p>
      </template>
      <div v-else class="waiting" aria-busy="true" />
    </main>
    <GlancePanel
      v-if="seesAll && dataset"
      :study="study"
      :dataset="dataset"
      @ask="askAbout"
      @close="seesAll = false"
    />
    <AnswerMargin
      v-if="shown && question"
      :answer="shown.answer"
      :study="study"
      :dataset-id="dataset!.id"
      class="margin"
      :may-change="mayChange"
      @ask="change"
      @follow-up="followUp"
    />
  </div>
</template>

<style scoped>
.ask {
  display: grid;
  grid-template-columns: 226px minmax(0, 1fr) 272px;
  min-height: calc(100vh - 52px);
}
.lines {
  position: sticky;
  top: 52px;
  align-self: start;
  max-height: calc(100vh - 52px);
  overflow-y: auto;
}
.middle {
  padding: 16px 24px 32px;
  min-width: 0;
}
.empty,
.hint {
  padding: 24px 0;
  font-size: 1.15rem;
}
p.empty {
  padding: 40px;
}
.middle p.empty {
  padding: 24px 0;
}
.design {
  margin: 6px 0;
  font-size: 0.93rem;
}
.slow {
  margin-top: 8px;
}
.problem {
  margin-top: 16px;
}
.waiting {
  height: 300px;
}
@media (max-width: 1180px) {
  .ask {
    grid-template-columns: 200px minmax(0, 1fr);
  }
  .margin {
    grid-column: 2;
  }
}
@media (max-width: 760px) {
  .ask {
    grid-template-columns: minmax(0, 1fr);
  }
  .lines {
    position: static;
    max-height: none;
  }
  .middle {
    order: -1;
    padding: 12px 14px 24px;
  }
  .margin {
    grid-column: 1;
    order: -1;
  }
}
</style>
