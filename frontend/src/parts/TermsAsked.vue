<script setup lang="ts">
/** Terms that whoever looks has not accepted yet: nothing of the data is shown before. */
import { ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keys, useRefresh } from '@/api/queries'
import type { DataSet, Study } from '@/api/types'
import ErrorNote from '@/parts/ErrorNote.vue'

const props = defineProps<{ study: Study; dataset: DataSet }>()
const refresh = useRefresh()
const error = ref<Error>()

async function accept() {
  error.value = undefined
  try {
    await unwrap(
      client.POST('/api/studies/{study_id}/datasets/{dataset_id}/terms', {
        params: { path: { study_id: props.study.id, dataset_id: props.dataset.id } },
        body: { texts: props.dataset.terms_asked.map(({ terms }) => terms) },
      }),
    )
  } catch (reason) {
    error.value = reason as Error
  }
  await refresh(...keys.study(props.study.id))
}
</script>

<template>
  <section class="terms" aria-label="Terms of use">
    <h2 class="serif">Terms of use</h2>
    <p class="quiet">
      Its rows, answers and exports are shown once you have accepted them. Who accepted what, and
      when, is kept.
    </p>
    <template v-for="each in dataset.terms_asked" :key="each.id">
      <h3 v-if="each.id !== dataset.id" class="overline">{{ each.name }}</h3>
      <p class="text serif">{{ each.terms }}</p>
    </template>
    <p><v-btn color="pine" variant="flat" @click="accept">Accept and go on</v-btn></p>
    <ErrorNote :error="error" />
  </section>
</template>

<style scoped>
.terms {
  display: grid;
  gap: 12px;
  max-width: 46em;
}
h2 {
  font-size: 1.4rem;
  font-weight: 500;
}
.text {
  font-size: 1.1rem;
  white-space: pre-line;
  border-left: 2px solid var(--hairline);
  padding-left: 14px;
}
</style>
