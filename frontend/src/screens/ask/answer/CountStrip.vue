<script setup lang="ts">
/** Who is counted: from everyone surveyed to those the numbers rest on. Keeps its place until that is known. */
import { computed, ref } from 'vue'

import type { Counted } from '@/api/types'
import { count, plural } from '@/design/numbers'
import SetAsidePanel from './SetAsidePanel.vue'

const props = defineProps<{ counted?: Counted }>()

const seesAside = ref(false)

const aside = computed(() => props.counted!.in_subset - props.counted!.counted)
const outside = computed(() => props.counted!.surveyed - props.counted!.in_subset)
const share = (n: number) => `${(100 * n) / Math.max(1, props.counted!.surveyed)}%`
const of = (n: number) => plural(n, props.counted!.noun_one, props.counted!.noun_many)
</script>

<template>
  <p v-if="!counted" class="awaited" />
  <div v-else class="strip" aria-label="Who is counted">
    <span
      ><b>{{ count(counted.surveyed) }}</b> surveyed</span
    >
    <span v-if="counted.subset"
      ><b>{{ count(counted.in_subset) }}</b> among them with {{ counted.subset }}</span
    >
    <span class="track" aria-hidden="true"
      ><span class="bar" :style="{ width: share(counted.counted) }" /><span
        v-if="aside"
        class="bar lost"
        :style="{ width: share(aside) }" /><span class="bar out" :style="{ width: share(outside) }"
    /></span>
    <span
      ><b>{{ count(counted.counted) }}</b> {{ counted.answered }}</span
    >
    <v-menu v-if="aside" :close-on-content-click="false" location="bottom">
      <template #activator="{ props: opener }">
        <button v-bind="opener" class="why">
          {{ count(aside) }} set aside · <span class="act">why</span>
        </button>
      </template>
      <section class="popover reasons" aria-label="Why they are set aside">
        <p v-for="reason in counted.set_aside" :key="reason.reason">
          <b>{{ of(reason.n) }}</b>: {{ reason.reason }}
        </p>
        <button class="act" @click="seesAside = true">
          See who they are, and whether they differ
        </button>
      </section>
    </v-menu>
    <span class="how">{{ counted.counting }}</span>
    <SetAsidePanel v-if="seesAside" @close="seesAside = false" />
  </div>
</template>

<style scoped>
.awaited {
  height: 30px;
  margin: 0;
}
.strip {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 10px;
  margin-top: 10px;
  font-size: 0.93rem;
  color: var(--quiet);
}
b {
  color: var(--ink);
  font-weight: 600;
}
.track {
  display: flex;
  gap: 2px;
  flex: 1 1 90px;
  max-width: 220px;
}
.bar {
  height: 6px;
  background: var(--pine);
  border-radius: 3px;
}
.bar.lost {
  background: repeating-linear-gradient(
    45deg,
    color-mix(in srgb, var(--quiet) 60%, transparent) 0 3px,
    var(--hairline) 3px 6px
  );
  min-width: 5px;
}
.bar.out {
  background: var(--hairline);
}
.why {
  color: var(--quiet);
}
.how {
  margin-left: auto;
}
.reasons {
  padding: 10px 16px;
  display: grid;
  gap: 4px;
}
</style>
