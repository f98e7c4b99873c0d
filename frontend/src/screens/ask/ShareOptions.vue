<script setup lang="ts">
/** How shares are given intervals, and the test of the event's share against a stated one. */
import { computed, ref, watch } from 'vue'

import type { Distribution, Question } from '@/api/types'
import { pEquals } from '@/design/numbers'
import LevelField from './LevelField.vue'
import { withOptions } from './options'

const props = defineProps<{ question: Question; variable: Distribution }>()
const emit = defineEmits<{ change: [question: Question] }>()

const methods = [
  { value: 'wilson', title: 'Wilson (usual)' },
  { value: 'clopper_pearson', title: 'exact (Clopper–Pearson)' },
  { value: 'agresti_coull', title: 'Agresti–Coull' },
  { value: 'jeffreys', title: 'Jeffreys' },
  { value: 'wald', title: 'Wald' },
]
const alternatives = [
  { value: 'two_sided', title: 'other than' },
  { value: 'less', title: 'below' },
  { value: 'greater', title: 'above' },
]
const options = computed(() => props.question.options as Record<string, unknown>)
const tests = computed(() => props.variable.share?.tests)
const against = ref('')
watch(
  () => options.value.against,
  (share) => (against.value = typeof share === 'number' ? String(+(100 * share).toFixed(8)) : ''),
  { immediate: true },
)

function set(changes: Record<string, unknown>) {
  emit('change', withOptions(props.question, changes))
}

function setAgainst(text: string) {
  const percent = Number(text.replace(',', '.').replace('%', ''))
  set({ against: text.trim() === '' || Number.isNaN(percent) ? undefined : percent / 100 })
}

const side = computed(() => {
  const key = { two_sided: 'p_two_sided', less: 'p_less', greater: 'p_greater' } as const
  return key[tests.value?.alternative ?? 'two_sided']
})
</script>

<template>
  <div class="options">
    <v-select
      :model-value="options.interval ?? 'wilson'"
      :items="methods"
      label="Interval by"
      class="wide"
      @update:model-value="set({ interval: $event })"
    />
    <LevelField :question="question" class="narrow" @change="emit('change', $event)" />
    <template v-if="variable.share">
      <v-select
        :model-value="options.alternative ?? 'two_sided'"
        :items="alternatives"
        :label="`Is “${variable.share.label}”`"
        class="narrow"
        @update:model-value="set({ alternative: $event })"
      />
      <v-text-field
        v-model="against"
        label="a stated share of, %"
        class="narrow"
        placeholder="10"
        @change="setAgainst(against)"
      />
    </template>
  </div>
  <div v-if="tests" class="tests">
    <p><span class="quiet">Null hypothesis:</span> {{ tests.null }}</p>
    <p><span class="quiet">Alternative:</span> {{ tests.alternative_in_words }}</p>
    <p>
      Exact binomial test {{ pEquals(tests.exact_binomial_test[side]) }} · score test z =
      {{ tests.score_z_test.statistic?.toFixed(2).replace('-', '−') }},
      {{ pEquals(tests.score_z_test[side]) }}
    </p>
  </div>
</template>

<style scoped>
.options {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
.wide {
  flex: 0 0 220px;
}
.narrow {
  flex: 0 0 170px;
}
.tests {
  margin-top: 10px;
  display: grid;
  gap: 3px;
}
</style>
