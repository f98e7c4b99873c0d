<script setup lang="ts">
/** Home: the studies one is a member of. */
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import { keys, useRefresh, useStudies } from '@/api/queries'
import type { Study } from '@/api/types'
import { plural } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useNotices } from '@/notices'
import PageHead from '../PageHead.vue'

const studies = useStudies()
const router = useRouter()
const notices = useNotices()
const refresh = useRefresh()
const name = ref('')
const error = ref<Error>()

async function create() {
  if (!name.value.trim()) {
    error.value = new Error('Give the study a name first.')
    return
  }
  try {
    const study = await unwrap(client.POST('/api/studies', { body: { name: name.value } }))
    await refresh(...keys.studies)
    router.push({ name: 'data', params: { study: study.id } })
  } catch (reason) {
    error.value = reason as Error
  }
}

async function remove(study: Study) {
  const params = { path: { study_id: study.id } }
  try {
    await unwrap(client.DELETE('/api/studies/{study_id}', { params }))
    await refresh(...keys.studies)
    notices.say(`“${study.name}” was deleted.`, async () => {
      await unwrap(client.POST('/api/studies/{study_id}/restore', { params }))
      await refresh(...keys.studies)
    })
  } catch (reason) {
    notices.complain(reason)
  }
}

const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })
</script>

<template>
  <PageHead />
  <main class="studies">
    <h1 class="serif">Studies</h1>
    <ErrorNote v-if="studies.isError.value" :error="studies.error.value" />
    <ul v-else-if="studies.data.value?.length" class="list">
      <li v-for="study in studies.data.value" :key="study.id" class="study">
        <router-link :to="{ name: 'ask', params: { study: study.id } }" class="name serif">{{
          study.name
        }}</router-link>
        <span class="quiet"
          >{{ plural(study.datasets, 'data set', 'data sets') }} ·
          {{ plural(study.questions, 'question', 'questions') }} · since
          {{ day.format(new Date(study.created_at))
          }}<template v-if="study.role !== 'owner'"> · you are {{ study.role }}</template></span
        >
        <button
          v-if="study.role === 'owner'"
          class="act"
          :aria-label="`Delete ${study.name}`"
          @click="remove(study)"
        >
          Delete
        </button>
      </li>
    </ul>
    <p v-else-if="studies.data.value" class="serif empty">
      A study holds your data, its codebook and your questions. Name your first one, then bring a
      file.
    </p>
    <!-- Only once the list is there: it would push the form from under the hand. -->
    <form v-if="!studies.isPending.value" class="new" @submit.prevent="create">
      <v-text-field
        v-model="name"
        label="Name of a new study"
        maxlength="200"
        @input="error = undefined"
      />
      <v-btn type="submit" color="primary" height="40">Create</v-btn>
    </form>
    <ErrorNote :error="error" />
  </main>
</template>

<style scoped>
.studies {
  max-width: 820px;
  width: 100%;
  margin: 0 auto;
  padding: 36px 24px;
  display: grid;
  gap: 20px;
}
h1 {
  font-size: 1.8rem;
}
.list {
  list-style: none;
  padding: 0;
  margin: 0;
}
.study {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 16px;
  padding: 14px 0;
  border-bottom: 1px solid var(--hairline);
}
.study:first-child {
  border-top: 1px solid var(--hairline);
}
.name {
  font-size: 1.25rem;
  text-decoration: none;
  color: var(--ink);
  overflow-wrap: anywhere;
}
.name:hover {
  color: var(--pine);
}
.study .quiet {
  grid-column: 1;
}
.study .act {
  grid-column: 2;
  grid-row: 1 / 3;
  align-self: center;
}
.empty {
  font-size: 1.15rem;
  max-width: 520px;
}
.new {
  display: flex;
  gap: 12px;
  max-width: 520px;
}
</style>
