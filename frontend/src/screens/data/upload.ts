/** Sending a file with progress, which fetch cannot tell. */
import { asProblem, csrfToken } from '@/api/client'
import type { DataSet, Job } from '@/api/types'

/** A data set, or the job that will make it where the file is large. */
export type Arrived = { dataset: DataSet } | { job: Job }

export interface Upload {
  done: Promise<Arrived>
  stop: () => void
  wasStopped: () => boolean
}

/** Send a file to an address of the API that answers with a data set or a job. */
export function upload(address: string, file: File, tell: (share: number) => void): Upload {
  const request = new XMLHttpRequest()
  let stopped = false
  const done = new Promise<Arrived>((resolve, reject) => {
    request.open('POST', address)
    request.setRequestHeader('X-CSRFToken', csrfToken())
    request.responseType = 'json'
    request.upload.onprogress = (event) => tell(event.total ? event.loaded / event.total : 0)
    request.upload.onload = () => tell(1)
    request.onload = () => {
      if (request.status === 201) resolve({ dataset: request.response as DataSet })
      else if (request.status === 202) resolve({ job: request.response as Job })
      else reject(asProblem(request.response, request.status))
    }
    request.onerror = () =>
      reject(new Error('The connection broke before the whole file had arrived. Nothing was kept.'))
    request.onabort = () => reject(new Error('Stopped.'))
    const body = new FormData()
    body.append('file', file)
    request.send(body)
  })
  return {
    done,
    stop: () => {
      stopped = true
      request.abort()
    },
    wasStopped: () => stopped,
  }
}
