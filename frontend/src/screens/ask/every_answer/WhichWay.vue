<script setup lang="ts">
/** Which way answers are compared, turned round with one click; which answer is the base. */
import type { Schemas } from '@/api/types'
import { count } from '@/design/numbers'
import { useOptions } from '../useAsking'

const props = defineProps<{ results: Schemas['EveryAnswerResults'] }>()
const { set } = useOptions('every_answer')

function choose(event: Event) {
  set({ base: (event.target as HTMLSelectElement).value })
}
const between = () => (props.results.downward ? '>' : '<')
</script>

<template>
  <p v-if="results.is_ordered" class="way">
    Odds of a <b>{{ results.downward ? 'lower' : 'higher' }}</b> answer:
    <span v-for="(answer, i) in results.answers" :key="answer.value">
      <span v-if="i" class="quiet">{{ between() }}</span> {{ answer.label }}{{ ' '
      }}<small class="quiet">{{ count(answer.n) }}</small
      >{{ ' ' }}
    </span>
    <button
      class="act"
      :aria-label="`Turn round: tell the odds of a ${results.downward ? 'higher' : 'lower'} answer`"
      @click="set({ downward: !results.downward })"
    >
      ⇄ turn round
    </button>
  </p>
  <p v-else class="way">
    <label
      >Odds of each answer rather than
      <select class="line" :value="results.answers[0]!.value" @change="choose">
        <option v-for="answer in results.answers" :key="answer.value" :value="answer.value">
          {{ answer.label }}
        </option>
      </select></label
    >
    <small class="quiet"> ({{ count(results.answers[0]!.n) }} of {{ count(results.n) }})</small>
  </p>
</template>

<style scoped>
.way {
  margin-bottom: 8px;
}
</style>
