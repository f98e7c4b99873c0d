/** How a lens shows its answer: `sheet` is always shown, `panels` are what is opened, by name. */
import type { Component } from 'vue'

export interface LensView {
  sheet: Component
  panels: Record<string, Component>
}
