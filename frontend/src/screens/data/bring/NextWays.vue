<script setup lang="ts">
/** Where to go from a data set: ask of it, or bring it together with others. */
import { computed } from 'vue'
import { useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import { keys, useRefresh } from '@/api/queries'
import type { DataSet, Question, Study } from '@/api/types'
import { useNotices } from '@/notices'
import { ways, type Way } from './recipes'

const props = defineProps<{ study: Study; dataset: DataSet; question?: Question | null }>()
const router = useRouter()
const refresh = useRefresh()
const notices = useNotices()
const next = computed<Way[]>(() =>
  props.dataset.cases.rows === 'several'
    ? ['one_per_case', 'groups', 'match']
    : ['match', 'groups'],
)

/** The question that groups were built for, kept in the line of questions. */
async function ask() {
  try {
    const made = await unwrap(
      client.POST('/api/studies/{study_id}/questions', {
        params: { path: { study_id: props.study.id } },
        body: {
          dataset: props.dataset.id,
          question: props.question!,
          parent: null,
          after: null,
          title: '',
        },
      }),
    )
    await refresh(...keys.questions(props.study.id))
    await router.push({ name: 'ask', params: { study: props.study.id, question: made.id } })
  } catch (error) {
    notices.complain(error)
  }
}
</script>

<template>
  <section aria-label="Next">
    <h2 class="overline">Next</h2>
    <p class="choices">
      <button v-if="question && study.role !== 'reader'" class="act" @click="ask">
        Odds ratios of each condition, by itself and together
      </button>
      <router-link
        class="act"
        :to="{ name: 'ask', params: { study: study.id }, query: { about: dataset.id } }"
        >Ask of it</router-link
      >
      <router-link
        v-for="way in next"
        :key="way"
        class="act"
        :to="{
          name: 'bring',
          params: { study: study.id },
          query: { way, from: dataset.id },
        }"
        >{{ ways[way].words }}</router-link
      >
    </p>
  </section>
</template>
