/** How wide an element is, kept up to date. */
import { onUnmounted, ref, watch, type Ref } from 'vue'

export function useRoom(place: Ref<HTMLElement | undefined>): Ref<number> {
  const width = ref(0)
  const observer =
    typeof ResizeObserver === 'undefined'
      ? undefined
      : new ResizeObserver(([entry]) => (width.value = Math.floor(entry!.contentRect.width)))
  watch(
    place,
    (element) => {
      observer?.disconnect()
      if (element) observer?.observe(element)
    },
    { immediate: true },
  )
  onUnmounted(() => observer?.disconnect())
  return width
}
