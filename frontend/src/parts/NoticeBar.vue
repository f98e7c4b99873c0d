<script setup lang="ts">
import { computed } from 'vue'

import { useNotices } from '@/notices'

const notices = useNotices()
const isShown = computed({
  get: () => !!notices.current,
  set: (shown) => !shown && notices.clear(),
})

async function undo() {
  const take = notices.current?.undo
  notices.clear()
  try {
    await take?.()
  } catch (error) {
    notices.complain(error)
  }
}
</script>

<template>
  <!-- In the corner: what is pressed next stands further left, and is not to be waited for. -->
  <v-snackbar
    v-model="isShown"
    location="bottom end"
    :timeout="notices.current?.undo ? 9000 : 6000"
    :color="notices.current?.isProblem ? 'fail' : 'ink'"
  >
    {{ notices.current?.text }}
    <template #actions>
      <v-btn v-if="notices.current?.undo" variant="text" @click="undo">{{
        notices.current.label ?? 'Undo'
      }}</v-btn>
      <v-btn variant="text" @click="notices.clear">Close</v-btn>
    </template>
  </v-snackbar>
</template>
