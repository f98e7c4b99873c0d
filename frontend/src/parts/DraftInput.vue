<script setup lang="ts">
/**
 * A plain field that keeps what is being typed while the screen around it is drawn anew. The text
 * is taken when the field is left or with Enter; `putBack` shows again what stood there.
 */
import { ref, watch } from 'vue'

const props = defineProps<{ value: string | number | null | undefined }>()
const emit = defineEmits<{ take: [text: string, putBack: () => void] }>()

const text = ref('')
const putBack = () => (text.value = String(props.value ?? ''))
watch(() => props.value, putBack, { immediate: true })
</script>

<template>
  <input v-model="text" @change="emit('take', text, putBack)" />
</template>
