/** The short message at the foot of the screen, with a way to take back what it reports. */
import { defineStore } from 'pinia'
import { ref } from 'vue'

export interface Notice {
  text: string
  undo?: () => unknown
  /** What the button says that does it. */
  label?: string
  isProblem?: boolean
}

export const useNotices = defineStore('notices', () => {
  const current = ref<Notice>()

  function say(text: string, undo?: () => unknown) {
    current.value = { text, undo }
  }

  /** Something was refused that may be done all the same. */
  function offer(text: string, label: string, action: () => unknown) {
    current.value = { text, label, undo: action }
  }

  function complain(error: unknown) {
    const text = error instanceof Error ? error.message : String(error)
    current.value = { text, isProblem: true }
  }

  function clear() {
    current.value = undefined
  }

  return { current, say, offer, complain, clear }
})
