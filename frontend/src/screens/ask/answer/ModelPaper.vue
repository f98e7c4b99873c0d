<script setup lang="ts">
/** A model as a table for a paper, to copy. */
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/types'
import PrintedTable from '@/parts/PrintedTable.vue'
import type { PrintedTable as Printed } from '@/parts/printed'
import { useCopied } from '@/parts/useCopied'

const props = defineProps<{ found: Schemas['PaperPanel'] }>()
const place = ref<HTMLElement>()
const { wasCopied, copyTable } = useCopied()
const table = computed(() => props.found.table as unknown as Printed)

function copy() {
  void copyTable(place.value?.querySelector('table') ?? undefined)
}
</script>

<template>
  <div ref="place"><PrintedTable :table="table" :caption="table.title" /></div>
  <p>
    <button class="act" @click="copy">Copy the table</button>
    <span v-if="wasCopied" class="quiet" role="status"> Copied.</span>
  </p>
</template>
