/** Sending a file with progress, which fetch cannot tell. */
import { asProblem, csrfToken } from '@/api/client'
import type { DataSet } from '@/api/types'

export interface Upload {
  done: Promise<DataSet>
  stop: () => void
  wasStopped: () => boolean
}

/** Send a file to an address of the API that answers with a data set. */
export function upload(address: string, file: File, tell: (share: number) => void): Upload {
  const request = new XMLHttpRequest()
  let stopped = false
  const done = new Promise<DataSet>((resolve, reject) => {
    request.open('POST', address)
    request.setRequestHeader('X-CSRFToken', csrfToken())
    request.responseType = 'json'
    request.upload.onprogress = (event) => tell(event.total ? event.loaded / event.total : 0)
    request.upload.onload = () => tell(1)
    request.onload = () =>
      request.status === 201
        ? resolve(request.response as DataSet)
        : reject(asProblem(request.response, request.status))
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
