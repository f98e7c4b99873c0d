/** Light or dark: as the system says until somebody chooses. */
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'

export type Theme = 'light' | 'dark'

const KEY = 'hobrix.theme'

export const useLooks = defineStore('looks', () => {
  const system = window.matchMedia('(prefers-color-scheme: dark)')
  const systemIsDark = ref(system.matches)
  system.addEventListener('change', (event) => (systemIsDark.value = event.matches))

  const chosen = ref(localStorage.getItem(KEY) as Theme | null)
  const theme = computed<Theme>(() => chosen.value ?? (systemIsDark.value ? 'dark' : 'light'))

  function turn() {
    chosen.value = theme.value === 'dark' ? 'light' : 'dark'
    localStorage.setItem(KEY, chosen.value)
  }

  return { theme, turn }
})
