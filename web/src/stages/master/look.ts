import type { ReactNode } from 'react'
import type { Drawing } from '../../parts/viewer/geometry'
import type { Handle } from '../../parts/viewer/Scene'
import type { Job, Point, Survey } from '../../api/client'

/** How the master is shown while one thing about it is looked into. */
export interface Look {
  /** One colour index for each triangle, and the colours. */
  paint?: Paint
  up?: readonly [number, number, number]
  spots?: readonly (readonly number[])[]
  arrow?: readonly [number, number, number]
  legend?: ReactNode
  /** A shape that is not the master yet. */
  instead?: Drawing
  /** The view fits itself anew when this changes. */
  fit?: string
  /** A place that the hand can drag. */
  handle?: Handle
  /** Pressing the part tells where. */
  pick?: (at: Point) => void
}

export interface Paint {
  key: string
  faces: Uint8Array
  colours: readonly string[]
}

/** What every panel of the master stage is given. */
export interface PanelProps {
  job: Job
  survey: Survey | undefined
  look: Look
  setLook: (look: Look) => void
  show: (at: readonly number[]) => void
  turn: (up: readonly number[], purpose: 'draw' | 'pour' | 'back', done: string) => void
  refresh: () => void
  busy: boolean
}
