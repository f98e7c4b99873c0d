<script setup lang="ts">
/** A report in view: its page in the middle, what it can be given beside it. */
import { computed, ref, toRef } from 'vue'

import { client, unwrap } from '@/api/client'
import { useCodebooks, useQuestions } from '@/api/queries'
import type { Schemas, Study } from '@/api/types'
import { useNotices } from '@/notices'
import DraftInput from '@/parts/DraftInput.vue'
import ErrorNote from '@/parts/ErrorNote.vue'
import { questionInWords } from '@/screens/ask/words'
import { provideReport } from './answerParts'
import type { Block } from './document'
import { lastAsked } from './lastAsked'
import NumbersInPrint from './NumbersInPrint.vue'
import { providePage } from './page'
import PutIn from './PutIn.vue'
import ReaderList from './ReaderList.vue'
import ReportList from './ReportList.vue'
import TakeAlong from './TakeAlong.vue'
import TwoVersions from './TwoVersions.vue'
import { useReport } from './useReport'
import WrittenPage from './WrittenPage.vue'

const props = defineProps<{ study: Study; id: string; reports: Schemas['ReportHead'][] }>()
const emit = defineEmits<{ make: []; remove: [id: string] }>()
const notices = useNotices()
const isReader = computed(() => props.study.role === 'reader')
const { report, page, blocks, state, conflicts, written, save, settle, look, change } = useReport(
  () => props.study.id,
  () => props.id,
  isReader,
)

const questions = useQuestions(() => props.study.id)
const asked = computed(() =>
  (questions.data.value ?? []).filter(
    ({ question, standing }) => question.outcome && standing !== 'dropped',
  ),
)
const data = computed(() => [...new Set(asked.value.map(({ dataset }) => dataset))])
const codebooks = useCodebooks(
  () => props.study.id,
  () => data.value,
)
function titleOf(id: string): string {
  const saved = (questions.data.value ?? []).find((each) => each.id === id)
  if (!saved) return 'A question that is not there any more.'
  return questionInWords(saved, codebooks.value[data.value.indexOf(saved.dataset)])
}

const decimalComma = computed(() => !!report.data.value?.style.decimal_comma)
providePage(page.data as never, { look, isReader, decimalComma, titleOf })
provideReport({
  study: toRef(() => props.study.id),
  report: toRef(() => props.id),
  style: computed(() => JSON.stringify(report.data.value?.style ?? {})),
})

const sheet = ref<InstanceType<typeof WrittenPage>>()
const put = (given: Block[]) => sheet.value?.put(given)

async function methods() {
  try {
    await save()
    const found = await unwrap(
      client.GET('/api/studies/{study_id}/reports/{report_id}/methods', {
        params: { path: { study_id: props.study.id, report_id: props.id } },
      }),
    )
    if (!found.paragraphs.length) {
      notices.say('Put in a number, table or picture first: methods are those of what was asked.')
      return
    }
    sheet.value?.makeAnew(
      found.paragraphs.map((text) => ({
        type: 'paragraph',
        made: 'methods',
        content: [{ type: 'text', text, bold: false, italic: false }],
      })),
    )
  } catch (error) {
    notices.complain(error)
  }
}

/** What a reviewer misses, of the question that is open or the first one used. */
function offer(what: Schemas['Item']['offer']) {
  if (what === 'methods') return void methods()
  if (what === 'preparation' || what === 'codebook') return put([{ type: what, caption: '' }])
  const used = page.data.value?.questions ?? []
  const question = lastAsked.value ?? used[0] ?? asked.value[0]?.id
  if (!question) return notices.say('Ask a question first.')
  const given = { question, caption: '' }
  if (what === 'characteristics')
    return put([{ type: what, within: 'outcome', numbers: 'mean', tests: false, ...given }])
  if (what === 'table') return put([{ type: what, table: '', ...given }])
  if (what === 'flow' || what === 'frequencies') return put([{ type: what, ...given }])
}

const savedInWords = computed(() =>
  state.trouble ? 'not saved' : state.isSaving ? 'saving' : 'saved',
)
const last = computed(() => {
  const found = [...(report.data.value?.blocks ?? [])].sort((a, b) =>
    b.changed_at.localeCompare(a.changed_at),
  )[0]
  if (!found?.changed_by) return ''
  const when = new Date(found.changed_at)
  const time = `${when.getHours()}`.padStart(2, '0') + ':' + `${when.getMinutes()}`.padStart(2, '0')
  return `Last changed by ${found.changed_by}, ${when.toISOString().slice(0, 10)} ${time}`
})
</script>

<template>
  <main class="report">
    <ReportList
      :reports="reports"
      :current="id"
      :study="study.id"
      :is-reader="isReader"
      :saved="savedInWords"
      @make="emit('make')"
      @remove="(id) => emit('remove', id)"
      @go="(block) => sheet?.goTo(block)"
    />
    <section class="middle" data-editing="the report" aria-label="Report">
      <ErrorNote :error="report.error.value ?? page.error.value ?? undefined" />
      <p v-if="state.trouble" class="trouble" role="alert">
        {{ state.trouble }} It is tried again.
      </p>
      <TwoVersions :theirs="conflicts" @settle="settle" />
      <DraftInput
        v-if="report.data.value"
        class="title serif"
        :value="report.data.value.title"
        aria-label="Title of the report"
        placeholder="Title"
        :disabled="isReader"
        maxlength="300"
        @take="(title) => change({ title })"
      />
      <WrittenPage
        v-if="blocks"
        ref="sheet"
        :blocks="blocks"
        :is-reader="isReader"
        :questions="asked"
        @written="written"
      />
      <p class="quiet last">{{ last }}</p>
    </section>
    <aside v-if="report.data.value" aria-label="For this report">
      <PutIn
        v-if="!isReader"
        :questions="asked"
        @put="put"
        @take="(question, key) => sheet?.takeNumber(question, key)"
        @methods="methods"
      />
      <ReaderList
        v-if="page.data.value"
        :items="page.data.value.checklist"
        @go="(block) => sheet?.goTo(block)"
        @offer="offer"
      />
      <NumbersInPrint
        v-if="!isReader"
        :value="report.data.value.style"
        @change="(style) => change({ style })"
      />
      <TakeAlong :study="study.id" :report="id" :title="report.data.value.title" :save="save" />
    </aside>
  </main>
</template>

<style scoped>
.report {
  display: grid;
  grid-template-columns: 205px minmax(0, 1fr) 270px;
  gap: 28px;
  padding: 16px 24px 30px;
}
.middle {
  display: grid;
  gap: 10px;
  align-content: start;
}
.title {
  font-size: 1.6rem;
  font-weight: 600;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 1px solid transparent;
  padding: 0 2px;
}
.title:hover,
.title:focus {
  border-color: var(--hairline);
}
aside {
  display: grid;
  gap: 20px;
  align-content: start;
}
.last {
  font-size: 0.87rem;
}
.trouble {
  color: var(--fail);
}
@media (min-width: 1001px) {
  .report > nav,
  aside {
    position: sticky;
    top: 60px;
    max-height: calc(100vh - 76px);
    overflow-y: auto;
  }
}
@media (max-width: 1000px) {
  .report {
    grid-template-columns: minmax(0, 1fr);
  }
  .middle {
    order: -1;
  }
}
</style>
