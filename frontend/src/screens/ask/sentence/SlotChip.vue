<script setup lang="ts">
/** A slot in running text, with the popover it opens. */
defineProps<{
  isOpen: boolean
  label: string
  isEmpty?: boolean
  /** It offers to add something. */
  isAdd?: boolean
  hasProblem?: boolean
  /** The lenses that read this slot, where the one that asks does not. */
  usedBy?: string
}>()
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
        :class="{ empty: isEmpty, add: isAdd, problem: hasProblem, unused: usedBy }"
        :title="usedBy ? `${label}: used by ${usedBy}` : label"
        aria-haspopup="dialog"
      >
        <slot /><small v-if="usedBy" class="by"> used by {{ usedBy }}</small>
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
/* What may be added stands back behind what is asked. */
.slot.add {
  font-family: var(--sans);
  font-size: 0.98rem;
  letter-spacing: 0;
  margin-right: 8px;
  border-bottom-width: 1px;
}
.slot.unused {
  border-bottom: 1px dotted var(--quiet);
  color: var(--quiet);
}
.by {
  font-family: var(--sans);
  font-size: 0.83rem;
}
.chip-popover {
  width: fit-content;
}
.slot.problem {
  border-bottom-color: var(--fail);
}
</style>
