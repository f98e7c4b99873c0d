/** Enter within a field does what the form is for; on a button it presses that. */
export function enterInField(event: KeyboardEvent, take: () => void) {
  if (!(event.target instanceof HTMLInputElement)) return
  event.preventDefault()
  take()
}
