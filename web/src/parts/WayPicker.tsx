import { Popover } from '@mantine/core'
import { useState, type KeyboardEvent } from 'react'
import type { Axis, Job } from '../api/client'
import { axes, dir } from './axes'
import { shapeKey } from './viewer/shapeKey'
import classes from './WayPicker.module.css'

interface Props {
  job: Job
  label: string
  value: Axis
  onChange: (axis: Axis) => void
}

/**
 * Which side of the part points up: a small drawing of the part standing that
 * way. Pressed it shows all six; the arrow keys turn it.
 */
export function WayPicker({ job, label, value, onChange }: Props) {
  const [open, setOpen] = useState(false)
  const [asked, setAsked] = useState(false) // the other five are drawn when they are wanted

  function turn(e: KeyboardEvent) {
    const by = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[e.key]
    if (!by || open) return
    e.preventDefault()
    onChange(axes[(axes.indexOf(value) + by + axes.length) % axes.length])
  }

  return (
    <div className={classes.way}>
      <span className={classes.label}>{label}</span>
      <Popover opened={open} onChange={setOpen} position="bottom-start" trapFocus returnFocus withinPortal>
        <Popover.Target>
          <button
            type="button"
            className={classes.now}
            aria-label={`${label}: ${value} up`}
            aria-expanded={open}
            aria-haspopup="dialog"
            title="Arrow keys turn it"
            onKeyDown={turn}
            onClick={() => {
              setAsked(true)
              setOpen(!open)
            }}
          >
            <Standing job={job} up={value} />
          </button>
        </Popover.Target>
        <Popover.Dropdown aria-label={`${label}, six ways`}>
          {asked && (
            <div className={classes.six}>
              {axes.map((axis) => (
                <button
                  key={axis}
                  type="button"
                  className={classes.one}
                  aria-pressed={axis === value}
                  aria-label={`${label}: ${axis} up`}
                  onClick={() => {
                    setOpen(false)
                    if (axis !== value) onChange(axis)
                  }}
                >
                  <Standing job={job} up={axis} />
                </button>
              ))}
            </div>
          )}
        </Popover.Dropdown>
      </Popover>
    </div>
  )
}

/** The part as it stands with one of its ways upwards. */
export function Standing({ job, up }: { job: Job; up: Axis }) {
  const [x, y, z] = dir(up)
  return (
    <>
      <svg className={classes.arrow} viewBox="0 0 12 40" aria-hidden>
        <path d="M6 39V4M2 9l4-6 4 6" fill="none" stroke="currentColor" strokeWidth="1.6" />
      </svg>
      <img
        src={`/api/jobs/${job.id}/pictures/draw?plain=true&x=${x}&y=${y}&z=${z}&v=${encodeURIComponent(shapeKey(job))}`}
        alt=""
        width="64"
        height="48"
        loading="lazy"
      />
      <span className="num">{up}</span>
    </>
  )
}
