<script setup lang="ts">
/** What moved when a newer file took the place of an older one, with the way back, or when what a data
 *  set is made from changed. */
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import type { DataSet, Study } from '@/api/types'
import { count } from '@/design/numbers'
import { useNotices } from '@/notices'

const props = defineProps<{ study: Study; dataset: DataSet; mayChange: boolean }>()
const emit = defineEmits<{ 'put-back': [dataset: DataSet] }>()

const notices = useNotices()
const isOpen = ref(true)
const report = computed(() => props.dataset.report!)
const moved = computed(() => report.value.questions.filter((each) => each.before !== each.after))

async function putBack() {
  try {
    const older = await unwrap(
      client.POST('/api/studies/{study_id}/datasets/{dataset_id}/put-back', {
        params: { path: { study_id: props.study.id, dataset_id: props.dataset.id } },
      }),
    )
    notices.say('The older file is back, with its questions.')
    emit('put-back', older as DataSet)
  } catch (error) {
    notices.complain(error)
  }
}
</script>

<template>
  <section class="report" :aria-label="dataset.made ? 'What moved' : 'What the newer file changed'">
    <p class="head">
      <span class="serif"
        >{{ dataset.made ? 'Made again' : 'A newer file' }}: {{ count(report.rows_before) }} →
        {{ count(report.rows_after) }} {{ dataset.noun_many }}</span
      >
      <button class="act" @click="isOpen = !isOpen">{{ isOpen ? 'Hide' : 'What changed' }}</button>
      <button v-if="mayChange && !dataset.made" class="act" @click="putBack">
        Put the older file back
      </button>
    </p>
    <dl v-if="isOpen">
      <template v-if="report.failed.length">
        <dt class="care">Could not be made again</dt>
        <dd v-for="each in report.failed" :key="each.words">{{ each.words }}: {{ each.why }}</dd>
      </template>
      <template v-if="report.vanished.length">
        <dt class="care">Variables that are gone</dt>
        <dd>{{ report.vanished.join(', ') }}</dd>
      </template>
      <template v-if="report.appeared.length">
        <dt>New variables</dt>
        <dd>{{ report.appeared.join(', ') }}</dd>
      </template>
      <template v-if="report.new_answers.length">
        <dt class="care">New answers</dt>
        <dd v-for="each in report.new_answers" :key="each.variable">
          {{ each.variable }}: {{ each.values.join(', ') }}
        </dd>
      </template>
      <template v-if="moved.length">
        <dt>Questions whose headline moved</dt>
        <dd v-for="each in moved" :key="each.id">
          <router-link :to="{ name: 'ask', params: { study: study.id, question: each.id } }">{{
            each.title || 'Question'
          }}</router-link>
          {{ each.before }} → {{ each.after }}
        </dd>
      </template>
      <template v-if="report.answered.length">
        <dt>Answered, before and after</dt>
        <dd class="counts">
          <span v-for="each in report.answered" :key="each.variable"
            >{{ each.variable }} {{ count(each.before) }} → {{ count(each.after) }}</span
          >
        </dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
.report {
  background: var(--sheet);
  border: 1px solid var(--hairline);
  border-radius: 8px;
  padding: 12px 16px;
  max-height: 40vh;
  overflow-y: auto;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 22px;
  align-items: baseline;
}
.head .serif {
  font-size: 1.15rem;
}
dl {
  margin: 8px 0 0;
  font-size: 0.93rem;
}
dt {
  font-weight: 600;
  margin-top: 6px;
}
dt.care {
  color: var(--care);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.counts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 20px;
}
</style>
