/** Focus an element of a popover as soon as it accepts it: it is hidden until it is placed. */
export function focusWhenShown(element: HTMLElement | null | undefined, frames = 60) {
  if (!element) return
  element.focus()
  if (document.activeElement !== element && frames > 0)
    requestAnimationFrame(() => focusWhenShown(element, frames - 1))
}
