/** The short message at the foot of the screen, with a way to take back what it reports. */
import { defineStore } from 'pinia'
import { ref } from 'vue'

export interface Notice {
  text: string
  undo?: () => unknown
  isProblem?: boolean
}

export const useNotices = defineStore('notices', () => {
  const current = ref<Notice>()

  function say(text: string, undo?: () => unknown) {
    current.value = { text, undo }
  }

  function complain(error: unknown) {
    const text = error instanceof Error ? error.message : String(error)
    current.value = { text, isProblem: true }
  }

  function clear() {
    current.value = undefined
  }

  return { current, say, complain, clear }
})
