<script setup lang="ts">
/** A slot in running text, with the popover it opens. */
defineProps<{ isOpen: boolean; label: string; isEmpty?: boolean; hasProblem?: boolean }>()
defineEmits<{ toggle: [open: boolean] }>()
</script>

<template>
  <v-menu
    :model-value="isOpen"
    :close-on-content-click="false"
    location="bottom start"
    :offset="6"
    @update:model-value="$emit('toggle', $event)"
  >
    <template #activator="{ props: opener }">
      <button
        v-bind="opener"
        class="slot"
        :class="{ empty: isEmpty, problem: hasProblem }"
        :title="label"
        aria-haspopup="dialog"
      >
        <slot />
      </button>
    </template>
    <section class="popover chip-popover" role="dialog" :aria-label="label">
      <slot v-if="isOpen" name="picker" />
    </section>
  </v-menu>
</template>

<style scoped>
.slot {
  display: inline;
  border-bottom: 2px solid var(--pine);
  padding: 0 2px;
  text-align: left;
  cursor: pointer;
}
.slot:hover {
  background: var(--pine-soft);
}
.slot.empty {
  border-bottom: 2px dashed var(--quiet);
  color: var(--quiet);
}
.chip-popover {
  width: fit-content;
}
.slot.problem {
  border-bottom-color: var(--fail);
}
</style>
