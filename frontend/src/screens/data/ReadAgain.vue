<script setup lang="ts">
/** Reads the codebook of a linked table again, as its data are now. */
import { ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keys, useRefresh } from '@/api/queries'
import type { DataSet, Study } from '@/api/types'
import { useNotices } from '@/notices'

const props = defineProps<{ study: Study; dataset: DataSet; mayChange: boolean }>()
const refresh = useRefresh()
const notices = useNotices()
const isAsking = ref(false)

async function readAgain() {
  isAsking.value = true
  try {
    await unwrap(
      client.POST('/api/studies/{study_id}/datasets/{dataset_id}/read-again', {
        params: { path: { study_id: props.study.id, dataset_id: props.dataset.id } },
      }),
    )
    await refresh(...keys.jobs(props.study.id))
  } catch (error) {
    notices.complain(error)
  } finally {
    isAsking.value = false
  }
}
</script>

<template>
  <button v-if="mayChange" class="act" :disabled="isAsking" @click="readAgain">
    Read it again
  </button>
</template>
