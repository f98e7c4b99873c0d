/** The keys of the workspace; what a single key changes says so, with Undo beside it. */
import { useNotices } from '@/notices'
import { useShortcuts } from '@/shortcuts'
import type { provideAsking, Slot } from './useAsking'
import { turned } from './words'

interface Does {
  back: () => void
  forth: () => void
  followUp: () => unknown
  newQuestion: () => unknown
  seeAll: () => unknown
}

export function useAskKeys(asking: ReturnType<typeof provideAsking>, does: Does) {
  const notices = useNotices()
  const open = (slot: Slot) => () => (asking.slot.value = slot)

  function turn() {
    const outcome = asking.entryOf(asking.question.value?.outcome?.variable)?.variable
    const next = asking.question.value && turned(asking.question.value, outcome)
    if (!next) return
    asking.put(next)
    notices.say('The event was turned round.', does.back)
  }

  useShortcuts('Ask', [
    { key: 'a', words: 'Among', run: open('among') },
    { key: 'o', words: 'Outcome and event', run: open('outcome') },
    { key: 'v', words: 'Vary with, and the reference', run: open('vary_with') },
    { key: 'l', words: 'Allowing for', run: open('allowing_for') },
    { key: 'w', words: 'Within each', run: open('within') },
    { key: 't', words: 'Turn the event round', run: turn },
    {
      key: 'x',
      words: 'Exchange rows and columns',
      run: () => (asking.isTransposed.value = !asking.isTransposed.value),
    },
    { key: 'g', words: 'All variables at a glance', run: does.seeAll },
    { key: 'n', words: 'New question', run: does.newQuestion },
    { key: 'f', words: 'Follow-up question', run: does.followUp },
    { key: 'Mod+Z', words: 'Take back the last change of the sentence', run: does.back },
    { key: 'Mod+Shift+Z', words: 'Make it again', run: does.forth },
  ])
}
