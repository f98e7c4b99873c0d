<script setup lang="ts">
/** Files that are being read in the background: how far they are, a way to stop, what went wrong. */
import { watch } from 'vue'

import { client, unwrap } from '@/api/client'
import { keys, useJobs, useRefresh } from '@/api/queries'
import type { Job, Study } from '@/api/types'
import { useNotices } from '@/notices'

const props = defineProps<{ study: Study; mayChange: boolean }>()
const emit = defineEmits<{ brought: [dataset: { id: string }] }>()

const jobs = useJobs(() => props.study.id)
const refresh = useRefresh()
const notices = useNotices()

const params = (id: string) => ({ path: { study_id: props.study.id, job_id: id } })

// A job that left the list was stopped, or is done and, unless it did something again, made the data set with
// its id.
watch(
  () => jobs.data.value,
  async (now, before) => {
    const listed = new Set(now?.map((job) => job.id))
    for (const { id } of before ?? []) {
      if (listed.has(id)) continue
      const call = client.GET('/api/studies/{study_id}/jobs/{job_id}', { params: params(id) })
      const job = await unwrap(call).catch(() => undefined)
      if (job?.state !== 'done') continue
      // What was made or read again is the data set it was.
      if (job.kind.endsWith('again')) await refresh(...keys.study(props.study.id))
      else emit('brought', { id })
    }
  },
)

async function stop(job: Job) {
  try {
    await unwrap(client.DELETE('/api/studies/{study_id}/jobs/{job_id}', { params: params(job.id) }))
    await refresh(...keys.jobs(props.study.id))
  } catch (error) {
    notices.complain(error)
  }
}
</script>

<template>
  <ul v-if="jobs.data.value?.length" class="jobs" aria-label="Files being read">
    <li v-for="job in jobs.data.value" :key="job.id">
      <template v-if="job.state === 'failed'">
        <span role="alert" class="failed">“{{ job.file_name }}”: {{ job.message }}</span>
        <button v-if="mayChange" class="act" @click="stop(job)">Put away</button>
      </template>
      <template v-else>
        <span class="what"
          ><b>{{ job.file_name }}</b>
          <span class="quiet" role="status">{{
            job.stop_requested ? 'stopping' : job.doing || 'waiting for its turn'
          }}</span></span
        >
        <progress
          :value="job.state === 'waiting' ? undefined : job.progress"
          :aria-label="`Progress of ${job.file_name}`"
        ></progress>
        <button v-if="mayChange" class="act" :disabled="job.stop_requested" @click="stop(job)">
          Stop
        </button>
      </template>
    </li>
  </ul>
</template>

<style scoped>
.jobs {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 10px;
  max-width: 780px;
}
li {
  display: grid;
  grid-template-columns: minmax(220px, 2fr) 3fr auto;
  gap: 14px;
  align-items: center;
}
.what {
  display: flex;
  gap: 10px;
  align-items: baseline;
}
.failed {
  grid-column: 1 / 3;
  color: var(--fail);
}
</style>
