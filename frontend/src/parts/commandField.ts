import { defineStore } from 'pinia'
import { ref } from 'vue'

/** Whether the command field is open; the head of the page opens it too. */
export const useCommandField = defineStore('command-field', () => {
  const isOpen = ref(false)
  return { isOpen }
})
