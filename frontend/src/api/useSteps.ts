/** Making a step of preparation on the version in view, with a notice and the way back. */
import { client, Problem, unwrap } from './client'
import { keys, useRefresh } from './queries'
import type { Entry, MadeStep, Step } from './types'
import { useNotices } from '@/notices'

export function useMakeStep(study: () => string, dataset: () => string) {
  const refresh = useRefresh()
  const notices = useNotices()
  const path = () => ({ path: { study_id: study(), dataset_id: dataset() } })
  const again = () => refresh(...keys.study(study()))

  /** Make a step on these entries as they are seen; throws the problem when it is refused. */
  async function make(step: Step, seen: Entry[]): Promise<MadeStep> {
    const versions = Object.fromEntries(seen.map((entry) => [entry.variable.name, entry.version]))
    try {
      const made = await unwrap(
        client.POST('/api/studies/{study_id}/datasets/{dataset_id}/steps', {
          params: path(),
          body: { step, seen: versions },
        }),
      )
      await again()
      notices.say(`${made.words}.`, undo)
      return made
    } catch (error) {
      if (error instanceof Problem && error.status === 409) {
        await again()
        // Theirs is shown now; which of the two stays is for people to say.
        notices.offer(
          'Somebody else changed this variable meanwhile: theirs is shown.',
          'Make my change all the same',
          () => make(step, []),
        )
      }
      throw error
    }
  }

  async function undo() {
    await unwrap(
      client.POST('/api/studies/{study_id}/datasets/{dataset_id}/steps/undo', { params: path() }),
    )
    await again()
  }

  async function redo() {
    await unwrap(
      client.POST('/api/studies/{study_id}/datasets/{dataset_id}/steps/redo', { params: path() }),
    )
    await again()
  }

  async function turn(id: number, isActive: boolean) {
    await unwrap(
      client.PATCH('/api/studies/{study_id}/datasets/{dataset_id}/steps/{step_id}', {
        params: { path: { ...path().path, step_id: id } },
        body: { is_active: isActive },
      }),
    )
    await again()
  }

  /** What a step would make, without making it. */
  function preview(step: Step): Promise<Entry> {
    return unwrap(
      client.POST('/api/studies/{study_id}/datasets/{dataset_id}/steps/preview', {
        params: path(),
        body: { step, seen: {} },
      }),
    ) as Promise<Entry>
  }

  return { make, undo, redo, turn, preview }
}
