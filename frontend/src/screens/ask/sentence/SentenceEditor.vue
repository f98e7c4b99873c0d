<script setup lang="ts">
/** The question as a sentence; each slot opens a picker, whatever the lens. */
import { computed } from 'vue'

import type { Problem } from '@/api/client'
import type { Entry } from '@/api/types'
import { notAsked } from '@/parts/kinds'
import { useAsking } from '../useAsking'
import AmongSlot from './AmongSlot.vue'
import MatchedSlot from './MatchedSlot.vue'
import OutcomeSlot from './OutcomeSlot.vue'
import TermList from './TermList.vue'
import { namesIn } from './terms'
import UnreadSlots from './UnreadSlots.vue'
import VarySlot from './VarySlot.vue'
import WithinSlot from './WithinSlot.vue'

defineProps<{ problem?: Problem }>()
const { question } = useAsking()
const varies = computed(() => question.value.vary_with.length > 0)
const allows = computed(() => question.value.allowing_for.length > 0)

/** Numbers may stand in a sentence: tables of characteristics and models take them. */
function refusal(entry: Entry): string | undefined {
  return notAsked(entry.variable)
}

function refusalOfMore(entry: Entry): string | undefined {
  const { name } = entry.variable
  const taken = [question.value.outcome?.variable, ...namesIn(question.value)]
  return taken.includes(name) ? 'in the sentence' : refusal(entry)
}
</script>

<template>
  <p class="sentence serif" aria-label="Question">
    Among <AmongSlot :problem="problem" />, how {{ varies ? 'does' : 'is' }}
    <OutcomeSlot :problem="problem" />{{ varies ? ' vary with ' : ' distributed '
    }}<VarySlot :problem="problem" :refusal="refusal" /><TermList
      v-if="varies"
      slot-name="vary_with"
      :from="1"
      add-label="And with another variable"
      add-words="+ and"
      :refusal="refusalOfMore"
    /><template v-if="allows">, allowing for</template
    ><TermList
      slot-name="allowing_for"
      :from="0"
      add-label="Allowing for"
      :add-words="allows ? '+ and' : '+ allowing for'"
      :refusal="refusalOfMore"
      :problem="problem"
    /><WithinSlot :problem="problem" /><MatchedSlot :problem="problem" />?
  </p>
  <UnreadSlots />
</template>

<style scoped>
.sentence {
  font-size: 1.6rem;
  line-height: 1.55;
  letter-spacing: -0.1px;
  overflow-wrap: anywhere;
}
@media (max-width: 760px) {
  .sentence {
    font-size: 1.3rem;
  }
}
</style>
