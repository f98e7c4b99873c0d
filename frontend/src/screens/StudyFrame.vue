<script setup lang="ts">
/** What all screens of a study share: its head, and what happens when there is no such study. */
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { usePulse } from '@/api/people'
import { useStudy } from '@/api/queries'
import { useInView } from '@/inView'
import { useShortcuts } from '@/shortcuts'
import Nowhere from './Nowhere.vue'
import PageHead from './PageHead.vue'

const route = useRoute()
const router = useRouter()
const id = computed(() => String(route.params.study))
const study = useStudy(id)

const { here } = usePulse(id, () => String(route.name ?? ''))
const inView = useInView()
const go = (name: string) => () => router.push(inView.placeOf(name, id.value))
useShortcuts('Screens', [
  { key: '1', words: 'Data', run: go('data') },
  { key: '2', words: 'Codebook', run: go('codebook') },
  { key: '3', words: 'Ask', run: go('ask') },
  { key: '4', words: 'Compare', run: go('compare') },
  { key: '5', words: 'Report', run: go('report') },
  {
    key: '6',
    words: 'People',
    run: () => router.push({ name: 'people', params: { study: id.value } }),
  },
])
</script>

<template>
  <Nowhere v-if="study.isError.value" />
  <template v-else>
    <PageHead :study-name="study.data.value?.name" :study-id="id" :here="here" />
    <router-view v-if="study.data.value" :study="study.data.value" />
  </template>
</template>
