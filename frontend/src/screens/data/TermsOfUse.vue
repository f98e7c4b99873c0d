<script setup lang="ts">
/** Terms and note of a data set, who accepted them, and whether its lender has a newer version. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { client, unwrap } from '@/api/client'
import { keys, useRefresh } from '@/api/queries'
import type { DataSet, DataSetChange, Study } from '@/api/types'
import { useNotices } from '@/notices'

const props = defineProps<{
  study: Study
  dataset: DataSet
  mayChange: boolean
  change: (changes: Omit<DataSetChange, 'version'>) => Promise<void>
}>()
const emit = defineEmits<{ newer: [dataset: { id: string }] }>()

const refresh = useRefresh()
const notices = useNotices()
const isOpen = ref(false)
const terms = ref('')
const note = ref('')
watch(
  () => [props.dataset.id, props.dataset.terms, props.dataset.note],
  () => ([terms.value, note.value] = [props.dataset.terms, props.dataset.note]),
  { immediate: true },
)
const path = computed(() => ({
  path: { study_id: props.study.id, dataset_id: props.dataset.id },
}))
const accepted = useQuery({
  queryKey: computed(() => [
    'study',
    props.study.id,
    'terms',
    props.dataset.id,
    props.dataset.terms,
  ]),
  queryFn: () =>
    unwrap(
      client.GET('/api/studies/{study_id}/datasets/{dataset_id}/terms', { params: path.value }),
    ),
  enabled: () => isOpen.value && !!props.dataset.terms,
})
const people = computed(() =>
  (accepted.data.value ?? []).filter(({ text }) => text === props.dataset.terms),
)
const day = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium' })

async function look() {
  try {
    const found = await unwrap(
      client.GET('/api/studies/{study_id}/datasets/{dataset_id}/newer', { params: path.value }),
    )
    if (!found.offer) notices.say(`${props.dataset.lender} has no newer version.`)
    else await bringNewer()
  } catch (error) {
    notices.complain(error)
  }
}

async function bringNewer() {
  const made = (await unwrap(
    client.POST('/api/studies/{study_id}/datasets/{dataset_id}/newer', { params: path.value }),
  )) as DataSet
  await refresh(...keys.study(props.study.id))
  emit('newer', made)
}
</script>

<template>
  <section class="of-use" aria-label="Terms and note">
    <p class="line-of">
      <span v-if="dataset.note" class="note">{{ dataset.note }}</span>
      <span v-if="dataset.lender" class="quiet">lent by {{ dataset.lender }}</span>
      <button v-if="dataset.lender && mayChange" class="act" @click="look">
        Look for a newer version
      </button>
      <button
        v-if="dataset.terms || (mayChange && !dataset.made)"
        class="act"
        :aria-expanded="isOpen"
        @click="isOpen = !isOpen"
      >
        {{ dataset.terms ? 'Terms of use' : 'Terms of use…' }}
      </button>
    </p>
    <form
      v-if="isOpen && mayChange && !dataset.lender"
      class="fields"
      @submit.prevent="change({ terms, note })"
    >
      <label
        ><span class="quiet">Terms that each person accepts before anything is shown</span>
        <textarea v-model="terms" rows="3" maxlength="20000" aria-label="Terms of use" />
      </label>
      <label
        ><span class="quiet">Said in every write-up and export, such as “preliminary”</span>
        <input v-model="note" maxlength="200" aria-label="Note" />
      </label>
      <button class="act" :disabled="terms === dataset.terms && note === dataset.note">Keep</button>
    </form>
    <p v-else-if="isOpen" class="serif text">{{ dataset.terms }}</p>
    <p v-if="isOpen && people.length" class="quiet">
      Accepted by
      {{
        people.map((each) => `${each.user}, ${day.format(new Date(each.accepted_at))}`).join('; ')
      }}
    </p>
  </section>
</template>

<style scoped>
.of-use {
  display: grid;
  gap: 8px;
}
.line-of {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: baseline;
}
.note {
  color: var(--care);
  background: var(--care-soft);
  border-radius: 9px;
  padding: 0 9px;
}
.fields {
  display: grid;
  gap: 8px;
  max-width: 46em;
}
.fields label {
  display: grid;
}
textarea,
.fields input {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--hairline);
  border-radius: 5px;
  padding: 5px 9px;
}
.text {
  white-space: pre-line;
}
</style>
