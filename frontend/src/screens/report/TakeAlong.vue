<script setup lang="ts">
/** The report as documents, its tables and its pictures; what takes long shows how far it is. */
import { ref } from 'vue'

import { useProgress } from '@/api/answers'
import { asProblem, client } from '@/api/client'
import { newWork, patientFetch, WORK } from '@/api/patience'
import { percent } from '@/design/numbers'
import { useNotices } from '@/notices'

const props = defineProps<{ study: string; report: string; title: string; save: () => unknown }>()
const notices = useNotices()

const KINDS = [
  { kind: 'docx', words: 'DOCX' },
  { kind: 'pdf', words: 'PDF' },
  { kind: 'html', words: 'HTML' },
  { kind: 'xlsx', words: 'tables as XLSX' },
  { kind: 'csv', words: 'tables as CSV' },
  { kind: 'pictures', words: 'pictures as SVG and PNG' },
  { kind: 'json', words: 'JSON for the command line' },
] as const
type Kind = (typeof KINDS)[number]['kind']

const under = ref<Kind>()
const token = ref('')
const progress = useProgress(
  () => props.study,
  token,
  () => !!under.value,
)

async function take(kind: Kind) {
  under.value = kind
  token.value = newWork()
  try {
    await props.save()
    const response = await patientFetch(
      new Request(`/api/studies/${props.study}/reports/${props.report}/export/${kind}`, {
        headers: { [WORK]: token.value },
      }),
    )
    if (!response.ok) throw asProblem(await response.json().catch(() => null), response.status)
    const name = /filename\*?=(?:utf-8'')?"?([^";]+)/i.exec(
      response.headers.get('Content-Disposition') ?? '',
    )?.[1]
    const link = document.createElement('a')
    link.href = URL.createObjectURL(await response.blob())
    link.download = name ? decodeURIComponent(name) : `report.${kind}`
    link.click()
    setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
  } catch (error) {
    if (under.value) notices.complain(error)
  } finally {
    under.value = undefined
  }
}
function stop() {
  const name = token.value
  under.value = undefined
  void client.DELETE('/api/studies/{study_id}/answer/under-way/{token}', {
    params: { path: { study_id: props.study, token: name } },
  })
}
</script>

<template>
  <section aria-label="Take it with you">
    <h2 class="overline">Take it with you</h2>
    <p class="kinds">
      <button
        v-for="{ kind, words } in KINDS"
        :key="kind"
        class="act"
        :disabled="!!under"
        @click="take(kind)"
      >
        {{ words }}
      </button>
    </p>
    <p v-if="under" role="status" class="quiet">
      Writing it
      <template v-if="progress.data.value?.done">{{ percent(progress.data.value.done) }}</template>
      <button class="act" @click="stop">Stop</button>
    </p>
  </section>
</template>

<style scoped>
.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 3px 14px;
}
</style>
