/** Shortcuts of the screens in view: registered while a component lives, listed under "?". */
import { onMounted, onUnmounted, shallowReactive } from 'vue'

export interface Shortcut {
  key: string
  words: string
  run: () => unknown
}

const groups = shallowReactive(new Map<string, Shortcut[]>())

export function allShortcuts(): [string, Shortcut[]][] {
  return [...groups.entries()]
}

/** Single keys, not heard while somebody types or a popover is open. */
export function useShortcuts(group: string, shortcuts: Shortcut[]) {
  onMounted(() => groups.set(group, shortcuts))
  onUnmounted(() => groups.delete(group))
}

export function isTyping(target: EventTarget | null): boolean {
  const element = target as HTMLElement | null
  const fields = 'input:not([type=checkbox], [type=radio]), textarea, select'
  return !!element?.closest?.(`${fields}, [contenteditable="true"], .popover`)
}

export function hearShortcuts(event: KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return
  if (document.querySelector('.v-overlay--active .popover')) return
  for (const shortcuts of groups.values()) {
    const found = shortcuts.find((shortcut) => shortcut.key === event.key)
    if (found) {
      event.preventDefault()
      found.run()
      return
    }
  }
}
