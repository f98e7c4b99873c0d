/** Making a data set of others, in another way, and back; what takes long goes on as a job. */
import { useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import { keys, useRefresh } from '@/api/queries'
import type { DataSet, Job, Recipe } from '@/api/types'
import { useNotices } from '@/notices'

const isJob = (made: DataSet | Job): made is Job => 'state' in made

export function useMaking(study: () => string) {
  const refresh = useRefresh()
  const router = useRouter()
  const notices = useNotices()
  const again = () => refresh(...keys.study(study()))
  const path = (dataset: string) => ({ path: { study_id: study(), dataset_id: dataset } })

  /** Make it and go there; throws the problem when it is refused. */
  async function make(name: string, recipe: Recipe, sources: string[]) {
    const made = (await unwrap(
      client.POST('/api/studies/{study_id}/bring', {
        params: { path: { study_id: study() } },
        body: { name, recipe, sources },
      }),
    )) as DataSet | Job
    await again()
    if (isJob(made)) {
      notices.say(`“${name}” is being made; the Data screen shows how far it is.`)
      await router.push({ name: 'data', params: { study: study() } })
    } else await router.push({ name: 'made', params: { study: study(), dataset: made.id } })
  }

  /** Make it in another way; whether that is done already. */
  async function change(dataset: DataSet, recipe: Recipe): Promise<boolean> {
    const made = (await unwrap(
      client.PUT('/api/studies/{study_id}/datasets/{dataset_id}/recipe', {
        params: path(dataset.id),
        body: { version: dataset.version, recipe },
      }),
    )) as DataSet | Job
    await again()
    return !isJob(made)
  }

  async function turn(dataset: string, back: boolean) {
    const params = path(dataset)
    try {
      await unwrap(
        back
          ? client.POST('/api/studies/{study_id}/datasets/{dataset_id}/recipe/undo', { params })
          : client.POST('/api/studies/{study_id}/datasets/{dataset_id}/recipe/redo', { params }),
      )
    } catch (error) {
      notices.complain(error)
    }
    await again()
  }

  return { make, change, turn, again }
}
