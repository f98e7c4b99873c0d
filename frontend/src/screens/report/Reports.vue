<script setup lang="ts">
/** The reports of a study: the one in view, or the first. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import type { Study } from '@/api/types'
import { useNotices } from '@/notices'
import ErrorNote from '@/parts/ErrorNote.vue'
import OpenReport from './OpenReport.vue'

const props = defineProps<{ study: Study }>()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const notices = useNotices()

const key = computed(() => ['study', props.study.id, 'reports'])
const reports = useQuery({
  queryKey: key,
  queryFn: () =>
    unwrap(
      client.GET('/api/studies/{study_id}/reports', {
        params: { path: { study_id: props.study.id } },
      }),
    ),
})
const current = computed(() => {
  const all = reports.data.value ?? []
  const named = String(route.params.report ?? '')
  return named ? all.find(({ id }) => id === named) : all[0]
})

async function make() {
  try {
    const made = await unwrap(
      client.POST('/api/studies/{study_id}/reports', {
        params: { path: { study_id: props.study.id } },
        body: { title: '' },
      }),
    )
    await queries.invalidateQueries({ queryKey: key.value })
    await router.push({ name: 'report', params: { study: props.study.id, report: made.id } })
  } catch (error) {
    notices.complain(error)
  }
}

async function remove(id: string) {
  const path = { study_id: props.study.id, report_id: id }
  try {
    await unwrap(client.DELETE('/api/studies/{study_id}/reports/{report_id}', { params: { path } }))
    await router.push({ name: 'report', params: { study: props.study.id, report: '' } })
    await queries.invalidateQueries({ queryKey: key.value })
    notices.say('The report was deleted.', async () => {
      await unwrap(
        client.POST('/api/studies/{study_id}/reports/{report_id}/restore', { params: { path } }),
      )
      await queries.invalidateQueries({ queryKey: key.value })
      await router.push({ name: 'report', params: { study: props.study.id, report: id } })
    })
  } catch (error) {
    notices.complain(error)
  }
}
</script>

<template>
  <OpenReport
    v-if="current"
    :id="current.id"
    :key="current.id"
    :study="study"
    :reports="reports.data.value ?? []"
    @make="make"
    @remove="remove"
  />
  <main v-else class="none">
    <ErrorNote :error="reports.error.value ?? undefined" />
    <template v-if="reports.data.value">
      <p v-if="route.params.report" class="serif">There is no such report in this study.</p>
      <p v-else class="serif">
        A report is a page you write. Its numbers, tables and pictures are those of your questions:
        they follow the data, and what has moved is marked until somebody has looked.
      </p>
      <p>
        <button v-if="study.role !== 'reader'" class="act" @click="make">Begin a report</button>
        <router-link
          v-if="route.params.report"
          class="act"
          :to="{ name: 'report', params: { study: study.id, report: '' } }"
          >See the others</router-link
        >
      </p>
    </template>
  </main>
</template>

<style scoped>
.none {
  display: grid;
  gap: 14px;
  padding: 48px 24px;
  max-width: 40em;
  margin: 0 auto;
  font-size: 1.2rem;
}
.none .act {
  margin-right: 18px;
}
</style>
