<script setup lang="ts">
/** A number with its interval and what it is against the first, or why it cannot stand there. */
import { computed } from 'vue'

import type { Question, Schemas } from '@/api/types'
import { count, percent, points, ratio, short } from '@/design/numbers'

const props = defineProps<{
  cell: Schemas['ComparedCell']
  contrast: Schemas['Contrast'] | null
  unit: string
}>()
const emit = defineEmits<{ change: [question: Question] }>()

const write = computed(() =>
  props.unit === 'share' ? percent : props.unit === 'ratio' ? ratio : short,
)
/** A difference of shares is in points; a quotient of ratios is one. */
const writeChange = computed(() =>
  props.unit === 'share' ? points : props.unit === 'ratio' ? ratio : short,
)
const limits = (ci: readonly unknown[], words: (value: number) => string) =>
  `${words(Number(ci[0]))} to ${words(Number(ci[1]))}`
</script>

<template>
  <template v-if="cell.estimate !== null">
    <b>{{ write(Number(cell.estimate)) }}</b>
    <small v-if="cell.ci" class="quiet">{{ limits(cell.ci, write) }}</small>
    <small v-if="cell.n !== null" class="under">{{
      cell.events !== null ? `${count(cell.events)} of ${count(cell.n)}` : `n ${count(cell.n)}`
    }}</small>
    <span v-if="contrast && contrast.estimate !== null" class="contrast">
      <span :class="{ apart: contrast.is_apart }"
        >{{ unit === 'ratio' ? '×' : '' }} {{ writeChange(Number(contrast.estimate))
        }}{{ unit === 'share' ? ' points' : ''
        }}<template v-if="contrast.ci"> ({{ limits(contrast.ci, writeChange) }})</template></span
      >
      <small v-if="contrast.ci" class="under" :title="contrast.says">{{
        contrast.is_apart ? 'they differ' : 'no clear difference'
      }}</small>
    </span>
  </template>
  <template v-else>
    <span class="quiet">{{ cell.why_not }}</span>
    <button
      v-if="cell.offer"
      class="act offer"
      @click="emit('change', cell.offer.question as Question)"
    >
      {{ cell.offer.label }}
    </button>
  </template>
</template>

<style scoped>
.contrast {
  display: block;
  margin-top: 3px;
  padding-top: 2px;
  border-top: 1px dotted var(--hairline);
  font-size: 0.93rem;
}
.apart {
  font-weight: 600;
}
.offer {
  display: block;
  font-size: 0.93rem;
}
</style>
