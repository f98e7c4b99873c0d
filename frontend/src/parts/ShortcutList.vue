<script setup lang="ts">
import { allShortcuts } from '@/shortcuts'

const isShown = defineModel<boolean>({ required: true })
</script>

<template>
  <v-dialog v-model="isShown" max-width="460">
    <section class="popover list" aria-label="Shortcuts">
      <div v-for="[group, shortcuts] in allShortcuts()" :key="group">
        <h2 class="overline">{{ group }}</h2>
        <p v-for="shortcut in shortcuts" :key="shortcut.key" class="line">
          <span>{{ shortcut.words }}</span><kbd>{{ shortcut.key }}</kbd>
        </p>
        <p v-if="group === 'Everywhere'" class="line">
          <span>Find a variable, question or screen</span><kbd>Ctrl K</kbd>
        </p>
      </div>
      <button class="act" @click="isShown = false">Close</button>
    </section>
  </v-dialog>
</template>

<style scoped>
.list {
  padding: 20px 24px;
  display: grid;
  gap: 16px;
}
.line {
  display: flex;
  justify-content: space-between;
  padding: 3px 0;
}
</style>
