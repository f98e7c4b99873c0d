<script setup lang="ts">
/** The workspace: lines of questions, the sentence and its answer, and what to mind. */
import { computed, nextTick, ref, toRef, watch } from 'vue'

import { useAnswer, useLenses, type Asked } from '@/api/answers'
import { Problem } from '@/api/client'
import { keys, useRefresh } from '@/api/queries'
import type { LensOffered, Question, SavedQuestion, Study } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useNotices } from '@/notices'
import AnswerMargin from './answer/AnswerMargin.vue'
import AnswerSheet from './answer/AnswerSheet.vue'
import CountStrip from './answer/CountStrip.vue'
import DesignOffer from './answer/DesignOffer.vue'
import LensTabs from './answer/LensTabs.vue'
import SlowNote from './answer/SlowNote.vue'
import FirstQuestions from './lines/FirstQuestions.vue'
import TermsAsked from '@/parts/TermsAsked.vue'
import NoData from './lines/NoData.vue'
import QuestionLines from './lines/QuestionLines.vue'
import GlancePanel from './overview/GlancePanel.vue'
import SentenceEditor from './sentence/SentenceEditor.vue'
import { isOf, provideAsking } from './useAsking'
import { useAskKeys } from './useAskKeys'
import { useSavedQuestion } from './useSavedQuestion'
import { useWorkspace } from './useWorkspace'

const props = defineProps<{ study: Study }>()
const notices = useNotices()
const refresh = useRefresh()
const work = useWorkspace(() => props.study)
const { codebook, dataset, questions, ready, saved } = work
const { question, change, back, forth, mayChange } = useSavedQuestion(
  toRef(props, 'study'),
  saved,
  (asked) => work.create(asked),
)
/** An empty study shows the sentence itself, ready to be filled in. */
const draft = computed(() =>
  questions.data.value && !saved.value ? work.emptyAbout(dataset.value) : undefined,
)
watch(draft, (empty) => empty && (question.value ??= empty), { immediate: true })

const asked: Asked = {
  study: () => props.study.id,
  dataset: () => dataset.value?.id,
  version: () => dataset.value?.version,
  question,
}
const lenses = useLenses(asked)
const lens = computed(() => lenses.data.value?.find((each) => isOf(each, question.value?.lens)))
const isFilled = computed(() => !!question.value?.outcome && !lens.value?.why_not)
const answer = useAnswer(asked, isFilled)
/** What is wrong; a slot that is only still empty is asked for in words. */
const problem = computed(() => (isFilled.value ? answer.error.value : null))
const refusal = computed(() => {
  const { name, title, why_not, is_open } = lens.value ?? {}
  return why_not && !lenses.isPlaceholderData.value ? { name, title, why_not, is_open } : null
})
const shown = computed(() => (isFilled.value && !problem.value ? answer.data.value : undefined))
const asking = provideAsking({
  study: toRef(props, 'study'),
  dataset: computed(() => dataset.value!),
  codebook: computed(() => codebook.data.value ?? []),
  question: computed(() => question.value!),
  lenses: computed(() => lenses.data.value ?? []),
  mayChange,
  shown,
  isOld: answer.isPlaceholderData,
  asked,
  change,
})
const isReady = computed(() => !!codebook.data.value && !!questions.data.value)
const slotProblem = computed(() => (problem.value instanceof Problem ? problem.value : undefined))

// The short form of an answer stands in the line of questions once it is there.
watch([shown, () => saved.value?.version], ([now]) => {
  if (now && !answer.isPlaceholderData.value && saved.value && !saved.value.is_current)
    void refresh(...keys.questions(props.study.id))
})
const seesAll = ref(false)

async function newQuestion(about?: string, changes: Partial<Question> = {}) {
  if (!isReady.value || !mayChange.value) return
  const before = saved.value?.id
  const chosen = ready.value.find(({ id }) => id === about) ?? dataset.value
  const made = await work.create(work.emptyAbout(chosen, changes), undefined, chosen)
  if (made && before) say('A new question.', made, before)
  if (!changes.outcome) asking.slot.value = 'outcome'
}

function askAbout(variable: string) {
  seesAll.value = false
  const lens = asking.lensThatGives('shares of answers') as never
  return newQuestion(undefined, { lens, outcome: { variable, event: [] } })
}

async function followUp() {
  if (!question.value || !saved.value || !mayChange.value) return
  const before = saved.value.id
  const made = await work.create(question.value, saved.value)
  if (made) say('A follow-up question.', made, before)
}

const say = (text: string, made: SavedQuestion, before: string) =>
  notices.say(text, () => work.unmake(made, before))

// Whoever has just brought data wants to ask.
watch(
  () => [work.wanted.value?.id, isReady.value] as const,
  async ([about, isNow]) => {
    if (!about || !isNow) return
    if (saved.value) await newQuestion(about)
    else {
      await nextTick()
      asking.slot.value = 'outcome'
    }
  },
  { immediate: true },
)

function chooseLens({ name, why_not, slot, is_open }: LensOffered) {
  if (!why_not) asking.put({ lens: name as never })
  else if (is_open && slot) asking.slot.value = slot as never
  else notices.say(why_not)
}

useAskKeys(asking, {
  back,
  forth,
  followUp,
  newQuestion: () => newQuestion(),
  seeAll: () => (seesAll.value = true),
})
</script>

<template>
  <NoData v-if="work.datasets.data.value && !ready.length" :drafts="work.drafts.value" />
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
      :drafts="work.drafts.value"
      @new="newQuestion"
      @see-all="seesAll = true"
    />
    <main class="middle">
      <ErrorNote v-if="questions.isError.value" :error="questions.error.value" />
      <TermsAsked v-else-if="dataset?.terms_asked.length" :study="study" :dataset="dataset" />
      <template v-else-if="question && codebook.data.value && dataset">
        <SentenceEditor :problem="slotProblem" />
        <ErrorNote v-if="problem" :error="problem" class="problem" />
        <p v-if="slotProblem && mayChange">
          <button
            v-for="remedy in slotProblem.details.remedies"
            :key="remedy.label"
            class="act remedy"
            @click="change(remedy.question)"
          >
            {{ remedy.label }}
          </button>
        </p>
        <p v-if="refusal" class="serif hint">{{ refusal.why_not }}</p>
        <FirstQuestions v-if="draft && !question.outcome && mayChange" />
        <SlowNote :answer="answer" @stopped="back" />
        <template v-if="shown || (isFilled && answer.isFetching.value)">
          <CountStrip :counted="shown?.answer.counted" />
          <DesignOffer />
        </template>
        <LensTabs
          v-if="question.outcome"
          :lens="question.lens"
          :lenses="lenses.data.value ?? []"
          @choose="chooseLens"
        />
        <AnswerSheet v-if="shown" />
      </template>
      <div v-else aria-busy="true" />
    </main>
    <GlancePanel
      v-if="seesAll && dataset"
      :study="study"
      :dataset="dataset"
      @ask="askAbout"
      @close="seesAll = false"
    />
    <AnswerMargin v-if="shown && question" class="margin" @follow-up="followUp" />
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
  height: calc(100vh - 52px);
  overflow-y: auto;
}
.middle {
  padding: 16px 24px 32px;
  min-width: 0;
}
.hint {
  padding: 24px 0;
  font-size: 1.15rem;
}
.problem {
  margin-top: 16px;
}
.remedy {
  display: block;
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
    height: auto;
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
