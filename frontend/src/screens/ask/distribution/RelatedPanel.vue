<script setup lang="ts">
/** Which variables go with the outcome: a quick look over all of them, the strongest first. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { count, limits, plural, pValue, two } from '@/design/numbers'
import ErrorNote from '@/parts/ErrorNote.vue'
import { useAsking } from '../useAsking'
import { emptyQuestion } from '../words'

const FEW = 10
const { answer, dataset, lensThatGives, put, study } = useAsking()

const isStopped = ref(false)
const showsAll = ref(false)
const stopper = ref(new AbortController())
// Only these decide the screening, so other changes of the question do not repeat it.
const asked = computed(() => {
  const { outcome, among, counted_by, confidence } = answer.value.question
  return emptyQuestion({ outcome, among, counted_by, confidence })
})
const found = useQuery({
  queryKey: computed(() => [
    'study',
    study.value.id,
    'screening',
    dataset.value.id,
    dataset.value.version,
    asked.value,
  ]),
  queryFn: ({ signal }) =>
    unwrap(
      client.POST('/api/studies/{study_id}/answer/screening', {
        params: { path: { study_id: study.value.id } },
        body: { dataset: dataset.value.id, question: asked.value, variables: null },
        signal: AbortSignal.any([signal, stopper.value.signal]),
      }),
    ),
  enabled: () => !isStopped.value,
  staleTime: Infinity,
})
const isWeighted = computed(() => answer.value.question.counted_by.kind === 'design')
const related = computed(() => found.data.value?.related ?? [])
const shown = computed(() => (showsAll.value ? related.value : related.value.slice(0, FEW)))

function stop() {
  isStopped.value = true
  stopper.value.abort()
}

function again() {
  stopper.value = new AbortController()
  isStopped.value = false
}

function cross(name: string) {
  put({ lens: lensThatGives('table') as never, vary_with: [{ variable: name }], within: [] })
}
</script>

<template>
  <p v-if="isStopped" class="quiet">
    Stopped. <button class="act" @click="again">Look again</button>
  </p>
  <p v-else-if="found.isFetching.value" role="status" class="quiet">
    Comparing with every other variable… <button class="act" @click="stop">Stop</button>
  </p>
  <ErrorNote v-else-if="found.isError.value" :error="found.error.value" />
  <template v-else-if="found.data.value">
    <p class="quiet told">
      An exploration: {{ plural(found.data.value.looked_at, 'variable', 'variables') }} compared
      with this one{{ isWeighted ? ', weighted and with the design of the sample' : '' }}, the
      strongest first. Such a list always has a top; what it suggests wants testing on other data.
    </p>
    <table class="plain">
      <thead>
        <tr>
          <th scope="col">Variable</th>
          <th scope="col">Cramér’s V</th>
          <th scope="col">interval</th>
          <th scope="col" title="Holm: all variables looked at are allowed for">
            p, all allowed for
          </th>
          <th scope="col">counted</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="each in shown" :key="each.variable">
          <th scope="row">
            <button
              class="act"
              :disabled="each.banded"
              :title="
                each.banded
                  ? 'Numbers in four bands: band it in the Codebook to cross-tabulate'
                  : 'Cross-tabulate the two'
              "
              @click="cross(each.variable)"
            >
              {{ each.title }}</button><small v-if="each.banded" class="quiet">
              in four bands</small
            >
          </th>
          <td>{{ two(each.cramers_v) }}</td>
          <td class="quiet">
            {{ limits(each.cramers_v_ci, two) }}
          </td>
          <td :title="`by itself ${pValue(each.p)}`">{{ pValue(each.p_holm) }}</td>
          <td class="quiet">{{ count(each.n) }}</td>
        </tr>
      </tbody>
    </table>
    <button v-if="related.length > FEW" class="act" @click="showsAll = !showsAll">
      {{ showsAll ? `Only the first ${FEW}` : `All ${related.length}` }}
    </button>
  </template>
</template>

<style scoped>
.told {
  margin-bottom: 8px;
  max-width: 620px;
}
</style>
