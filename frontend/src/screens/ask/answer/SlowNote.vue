<script setup lang="ts">
/** An answer that takes longer says so, tells how far it is, and can be stopped. */
import { useQueryClient } from '@tanstack/vue-query'

import type { useAnswer } from '@/api/answers'
import { useAsking } from '../useAsking'
import { useLongWork } from '../useLongWork'

const props = defineProps<{ answer: ReturnType<typeof useAnswer> }>()
const emit = defineEmits<{ stopped: [] }>()

const { shown, study } = useAsking()
const cache = useQueryClient()
const { isSlow, words } = useLongWork(() => study.value.id, props.answer)

/** The question goes back to what it was before the answer that is stopped. */
async function stop() {
  await cache.cancelQueries({ queryKey: ['study', study.value.id, 'answer'] })
  emit('stopped')
}
</script>

<template>
  <p v-if="isSlow" class="quiet slow" role="status">
    {{ words || 'Counting…' }}
    <button class="act" @click="stop">Stop</button>
  </p>
  <p v-else-if="!shown && answer.isFetching.value" class="quiet slow" role="status">Counting…</p>
</template>

<style scoped>
.slow {
  margin-top: 8px;
}
</style>
