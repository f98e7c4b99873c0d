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

/**
 * Keys, not heard while somebody types or a popover is open. "Mod" is Ctrl, or ⌘ where there is
 * one: "Mod+Z", "Mod+Shift+Z".
 */
export function useShortcuts(group: string, shortcuts: Shortcut[]) {
  onMounted(() => groups.set(group, shortcuts))
  onUnmounted(() => groups.delete(group))
}

export function isTyping(target: EventTarget | null): boolean {
  const element = target as HTMLElement | null
  const fields = 'input:not([type=checkbox], [type=radio]), textarea, select'
  return !!element?.closest?.(`${fields}, [contenteditable="true"], .popover`)
}

function nameOf(event: KeyboardEvent): string {
  if (!event.ctrlKey && !event.metaKey) return event.key
  return `Mod+${event.shiftKey ? 'Shift+' : ''}${event.key.toUpperCase()}`
}

export function hearShortcuts(event: KeyboardEvent) {
  if (event.altKey || isTyping(event.target)) return
  if (document.querySelector('.v-overlay--active .popover')) return
  const key = nameOf(event)
  for (const shortcuts of groups.values()) {
    const found = shortcuts.find((shortcut) => shortcut.key === key)
    if (found) {
      event.preventDefault()
      found.run()
      return
    }
  }
}
