<script setup lang="ts">
/** How shares are given intervals, and the test of the event's share against a stated one. */
import { computed, ref, watch } from 'vue'

import { inField, pEquals, two } from '@/design/numbers'
import IntervalFields from '../answer/IntervalFields.vue'
import { useOptions } from '../useAsking'
import { useOutcome } from './useOutcome'

const outcome = useOutcome()
const { options, set } = useOptions('distribution')
const alternatives = [
  { value: 'two_sided', title: 'other than' },
  { value: 'less', title: 'below' },
  { value: 'greater', title: 'above' },
]
const share = computed(() => outcome.value.share)
const tests = computed(() => share.value?.tests)
const against = ref('')
watch(
  () => options.value.against,
  (share) => (against.value = share === null ? '' : inField(100 * share!)),
  { immediate: true },
)

function setAgainst(text: string) {
  const percent = Number(text.replace(',', '.').replace('%', ''))
  set({ against: text.trim() === '' || Number.isNaN(percent) ? null : percent / 100 })
}

const side = computed(() => {
  const key = { two_sided: 'p_two_sided', less: 'p_less', greater: 'p_greater' } as const
  return key[tests.value?.alternative ?? 'two_sided']
})
</script>

<template>
  <div class="choices">
    <IntervalFields :method="options.share_interval" @change="set({ share_interval: $event })" />
    <template v-if="share">
      <v-select
        :model-value="options.alternative"
        :items="alternatives"
        :label="`Is “${share.label}”`"
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
    <p v-if="tests.exact_binomial_test && tests.score_z_test">
      Exact binomial test {{ pEquals(tests.exact_binomial_test[side]) }} · score test z =
      {{ two(tests.score_z_test.statistic) }},
      {{ pEquals(tests.score_z_test[side]) }}
    </p>
    <p v-else-if="tests.test">{{ tests.test.name }}: {{ pEquals(tests.test.p) }}</p>
  </div>
</template>

<style scoped>
.tests {
  margin-top: 10px;
  display: grid;
  gap: 3px;
}
</style>
