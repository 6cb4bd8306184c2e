import type { Job } from '../api/client'

export const stages = ['order', 'master', 'mould', 'gates', 'rubber', 'shot', 'pulls'] as const
export type Stage = (typeof stages)[number]
export const stageName: Record<Stage, string> = {
  order: 'Order',
  master: 'Master',
  mould: 'Mould',
  gates: 'Gates',
  rubber: 'Rubber',
  shot: 'Shot',
  pulls: 'Pulls',
}

/** What every stage is given: the job, and how to look again when it has changed. */
export interface StageProps {
  job: Job
  refresh: () => void
}
