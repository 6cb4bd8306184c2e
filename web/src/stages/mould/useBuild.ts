import { useEffect, useState } from 'react'
import type { Build, BuildSearch, BuiltKind, Job } from '../../api/client'
import { useSearch } from '../master/useSearch'
import { useDesign } from '../useDesign'

export const kindNames: Record<BuiltKind, string> = {
  'parting-board': 'two parts on a parting board',
  'clayed-up': 'two parts, clayed up',
  cut: 'cut block',
  'tape-parted': 'tape-parted clear block',
  'three-piece': 'three pieces and more',
  squeeze: 'squeeze mould',
  'open-face': 'open-face block',
  stretch: 'soft stretch block',
  shell: 'rubber skin in a rigid shell',
}

export interface BuildWork {
  kind: BuiltKind
  build: Build | null
  stage: string | null
  asked: boolean
  ask: (wanted: boolean) => void
}

/** The kind that a job's mould is built as: the design's, else the brief's. */
export function useKind(job: Job): BuiltKind {
  const { design } = useDesign()
  const said = job.brief.kind as BuiltKind | undefined
  return design.kind ?? (said && said in kindNames ? said : 'clayed-up')
}

/** The kept design worked out down to the bench; another design is worked out again. */
export function useBuild(job: Job, wanted: boolean): BuildWork {
  const { design, keeping } = useDesign()
  const kind = useKind(job)
  const [stopped, setStopped] = useState<string | null>(null)
  const version = JSON.stringify([design, job.master?.mesh?.key, job.brief.quality, job.brief.inserts])
  const [settled, setSettled] = useState<string | null>(null)
  // the server builds what is kept: wait until this design is
  useEffect(() => {
    if (keeping === 'kept' || keeping === 'proposal') setSettled(version)
  }, [keeping, version])
  const asked = wanted && job.master?.kind === 'mesh' && stopped !== version
  const ready = asked && settled === version && (keeping === 'kept' || keeping === 'proposal')
  const found = useSearch<BuildSearch>(ready ? `/api/jobs/${job.id}/searches/build?kind=${kind}&v=${hash(version)}` : null, (_, news) => news, () => setStopped(version))
  return { kind, build: found?.build ?? null, stage: asked && !found?.finished ? (found?.stage ?? 'beginning') : null, asked, ask: (on) => setStopped(on ? null : version) }
}

/** A short name for a long text, so that an address changes whenever it does. */
export function hash(text: string): string {
  let h = 5381
  for (let i = 0; i < text.length; i++) h = ((h * 33) ^ text.charCodeAt(i)) >>> 0
  return h.toString(36) + text.length.toString(36)
}
