import { useEffect, useState } from 'react'
import { useMatch, useNavigate } from 'react-router'
import { api, type Job } from '../api/client'
import { changes, make } from '../kept/changes'
import { say, sayProblem } from '../parts/Say'
import { dropped } from './dropped'
import classes from './DropAnywhere.module.css'

/** A mesh file that is let go anywhere becomes the master: of the job at hand, or of a new one. */
export function DropAnywhere() {
  const [over, setOver] = useState(false)
  const match = useMatch('/jobs/:jobId/*')
  const jobId = match?.params.jobId ?? ''
  const job = api.useQuery('get', '/jobs/{jobId}', { params: { path: { jobId } } }, { enabled: jobId !== '' }).data
  const navigate = useNavigate()

  useEffect(() => {
    let depth = 0
    const files = (e: DragEvent) => e.dataTransfer?.types.includes('Files') ?? false
    const move = (by: number) => (e: DragEvent) => {
      if (!files(e)) return
      e.preventDefault()
      depth = Math.max(0, depth + by)
      setOver(depth > 0)
    }
    const [enter, leave, stay] = [move(1), move(-1), (e: DragEvent) => files(e) && e.preventDefault()]
    const drop = (e: DragEvent) => {
      if (!files(e)) return
      e.preventDefault()
      depth = 0
      setOver(false)
      const file = e.dataTransfer?.files[0]
      if (file) void take(file)
    }
    async function take(file: File) {
      if (!/\.(stl|obj|3mf)$/i.test(file.name)) {
        say('That is no mesh', 'Let go an STL, OBJ or 3MF file: it becomes a master.')
        return
      }
      try {
        let id = jobId
        if (!id) {
          const name = file.name.replace(/\.[^.]*$/, '').slice(0, 100) || 'New part'
          const outcome = await make(changes.addJob({ name, quantity: 1, notes: '', set: '', perSet: 1 }))
          if (!outcome.sent) {
            say('Kept here for now', 'The job is added when the server answers. Let the file go again then.')
            return
          }
          id = (outcome.data as Job).id
        }
        dropped.put(id, file)
        void navigate(`/jobs/${id}/master`)
      } catch (thrown) {
        sayProblem(thrown)
      }
    }
    window.addEventListener('dragenter', enter)
    window.addEventListener('dragleave', leave)
    window.addEventListener('dragover', stay)
    window.addEventListener('drop', drop)
    return () => {
      window.removeEventListener('dragenter', enter)
      window.removeEventListener('dragleave', leave)
      window.removeEventListener('dragover', stay)
      window.removeEventListener('drop', drop)
    }
  }, [jobId, navigate])

  if (!over) return null
  return (
    <div className={classes.over} role="status">
      {jobId ? `Let go: it becomes the master of ${job?.order.name ?? 'this job'}` : 'Let go: it becomes the master of a new job'}
    </div>
  )
}
