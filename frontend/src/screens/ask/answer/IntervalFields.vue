<script setup lang="ts">
/** By which method shares have their intervals, and at what level; a design has a method of its own. */
import { useAsking } from '../useAsking'
import { intervalMethods } from './intervalMethods'
import LevelField from './LevelField.vue'

type Method = (typeof intervalMethods)[number]['value']

defineProps<{ method: Method }>()
const emit = defineEmits<{ change: [method: Method] }>()

const { answer } = useAsking()
</script>

<template>
  <v-select
    v-if="!answer.sample"
    :model-value="method"
    :items="intervalMethods"
    label="Interval of a share by"
    class="wide"
    @update:model-value="emit('change', $event)"
  />
  <LevelField class="narrow" />
</template>
