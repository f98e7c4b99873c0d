/** The slots of the sentence: which is open, which has a problem, which lens reads it. */
import { computed, nextTick, type Ref } from 'vue'

import type { Problem } from '@/api/client'
import { useAsking, type Slot } from '../useAsking'

export function useSlot(name: Slot, problem: Ref<Problem | undefined>) {
  const { slot, lens, lenses } = useAsking()
  const isOpen = computed(() => slot.value === name)
  const isRead = computed(
    () => !lens.value || name === 'among' || name === 'outcome' || lens.value.uses.includes(name),
  )
  const chip = computed(() => ({
    isOpen: isOpen.value,
    hasProblem: problem.value?.where('slot') === name,
    usedBy: isRead.value
      ? undefined
      : lenses.value
          .filter(({ uses }) => uses.includes(name))
          .map(({ title }) => title)
          .join(' and '),
    onToggle: (isNow: boolean) => (slot.value = isNow ? name : undefined),
  }))

  async function open(next: Slot = name) {
    slot.value = undefined
    await nextTick()
    slot.value = next
  }

  const close = () => (slot.value = undefined)
  return { chip, isRead, open, close }
}
