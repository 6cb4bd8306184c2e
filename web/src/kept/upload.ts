import { asProblem, Problem, type Job } from '../api/client'
import { whole } from '../api/numbers'
import { reach } from './reach'

export interface Upload {
  done: Promise<Job>
  cancel: () => void
}

/** Sends a mesh file, telling what share of it is sent; sent again under its key it is read once. */
export function upload(job: Job, file: File, key: string, told: (share: number) => void): Upload {
  const request = new XMLHttpRequest()
  const done = new Promise<Job>((take, refuse) => {
    request.open('POST', `/api/jobs/${job.id}/master/mesh?filename=${encodeURIComponent(file.name)}`)
    request.setRequestHeader('Content-Type', 'application/octet-stream')
    request.setRequestHeader('If-Match', `"${job.version}"`)
    request.setRequestHeader('Idempotency-Key', key)
    request.upload.onprogress = (e) => e.lengthComputable && told(e.loaded / e.total)
    request.onload = () => {
      reach.answered()
      try {
        const body: unknown = JSON.parse(request.responseText)
        if (request.status === 200) take(whole(body) as Job)
        else refuse(asProblem(body))
      } catch {
        refuse(new Problem('The server gave no sensible answer', 'Try again.', request.status))
      }
    }
    request.onerror = () => {
      reach.failed()
      refuse(new Problem('The connection was lost on the way', 'The master is as it was. Send the file again when the server answers.', 0))
    }
    request.onabort = () => refuse(new Problem('Called off', 'The master is as it was.', 0))
    request.send(file)
  })
  return { done, cancel: () => request.abort() }
}
