<script setup lang="ts">
/** Text in which **…** is emphasis; nothing else is markup, so labels show as they are. */
import { computed } from 'vue'

const props = defineProps<{ text: string }>()
const parts = computed(() => props.text.split('**'))
</script>

<template>
  <template v-for="(part, i) in parts" :key="i"
    ><strong v-if="i % 2">{{ part }}</strong
    ><template v-else>{{ part }}</template></template
  >
</template>
