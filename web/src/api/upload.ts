/** Sends a model file with progress, as the open part's model, one more of its files, or a part of its own; fetch cannot tell how much has gone out, XMLHttpRequest can. */
import { Refusal, refusalOf, type RevisionView } from './client'

export interface Upload {
  done: Promise<RevisionView>
  stop: () => void
}

export function uploadModel(
  projectId: string,
  file: File,
  baseRevision: number,
  onProgress: (fraction: number) => void,
  as: 'model' | 'add' | 'part' = 'model',
): Upload {
  const request = new XMLHttpRequest()
  const query = new URLSearchParams({ file_name: file.name, base_revision: String(baseRevision) })
  if (as === 'add') query.set('add', 'true')
  if (as === 'part') query.set('as_part', 'true')
  const done = new Promise<RevisionView>((resolve, reject) => {
    request.open('POST', `/api/projects/${projectId}/model?${query}`)
    request.setRequestHeader('Content-Type', 'application/octet-stream')
    request.upload.onprogress = (event) => onProgress(event.total ? event.loaded / event.total : 0)
    request.onload = () => {
      const body: unknown = parsed(request.responseText)
      if (request.status < 300) resolve(body as RevisionView)
      else reject(refusalOf(body, request.status))
    }
    request.onerror = () =>
      reject(new Refusal('The connection broke off while the file was sent. Bring it in again.', 0))
    request.onabort = () => reject(new Refusal('Stopped; nothing was changed.', 0))
    request.send(file)
  })
  return { done, stop: () => request.abort() }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}
