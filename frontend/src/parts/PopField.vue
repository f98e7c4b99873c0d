<script setup lang="ts">
/** Words in a sentence that open a popover in which they are chosen. */
defineProps<{ label: string; text: string; isEmpty: boolean; disabled?: boolean }>()
const isOpen = defineModel<boolean>({ required: true })
</script>

<template>
  <v-menu
    v-model="isOpen"
    :close-on-content-click="false"
    location="bottom start"
    :offset="6"
    :disabled="disabled"
  >
    <template #activator="{ props: opener }">
      <button
        v-bind="opener"
        type="button"
        class="field"
        :class="{ empty: isEmpty }"
        :aria-label="`${label}: ${text}`"
        aria-haspopup="dialog"
      >
        {{ text }}
      </button>
    </template>
    <section class="popover wide-as-it-is" role="dialog" :aria-label="label">
      <slot v-if="isOpen" />
    </section>
  </v-menu>
</template>

<style scoped>
.field {
  border-bottom: 2px solid var(--pine);
  padding: 0 2px;
  text-align: left;
}
.field.empty {
  border-bottom-style: dashed;
  border-color: var(--quiet);
  color: var(--quiet);
}
.wide-as-it-is {
  width: fit-content;
}
</style>
