import { NativeSelect, SegmentedControl, TextInput } from '@mantine/core'
import { useState } from 'react'
import type { Job } from '../../api/client'
import { MeasureInput } from '../../parts/MeasureInput'
import { Viewer } from '../../parts/viewer/Viewer'
import classes from '../plain.module.css'
import { defects, type PullEntry } from './entries'

interface Props {
  cavity: number
  entry: PullEntry
  put: (part: Partial<PullEntry>) => void
  job?: Job
  onPicking?: (picking: boolean) => void
}

/** What came out of a cavity: good or scrap, what was wrong and where, what it weighed. */
export function CavityLine({ cavity, entry: e, put, job, onPicking }: Props) {
  const [picking, setPicking] = useState(false)
  const [noting, setNoting] = useState(false)
  const bad = e.bad[cavity] != null
  const place = e.places[cavity]
  const told = bad || noting || !!e.remarks[cavity] // something is to be said of it
  const pick = (on: boolean) => {
    setPicking(on)
    onPicking?.(on)
  }
  return (
    <div className={classes.cavity} role="group" aria-label={`Cavity ${cavity}`}>
      <span>Cavity {cavity}</span>
      <SegmentedControl
        size="sm"
        aria-label={`Result of cavity ${cavity}`}
        value={!bad ? 'good' : e.seconds[cavity] ? 'second' : 'scrap'}
        onChange={(v) => {
          if (v === 'good') pick(false)
          put({
            bad: { ...e.bad, [cavity]: v === 'good' ? null : (e.bad[cavity] ?? defects[0]) },
            seconds: { ...e.seconds, [cavity]: v === 'second' },
            places: v === 'good' ? { ...e.places, [cavity]: null } : e.places,
          })
        }}
        data={[
          { value: 'good', label: '✓ good' },
          { value: 'second', label: '◇ second' },
          { value: 'scrap', label: '◆ scrap' },
        ]}
      />
      <span className={classes.weighs}>
        <MeasureInput
          label={`Weight of casting ${cavity}`}
          kind="mass"
          value={e.weights[cavity] ?? null}
          onChange={(v) => put({ weights: { ...e.weights, [cavity]: v } })}
          allowEmpty
        />
        {!told && (
          <button type="button" className="quiet" aria-label={`note on casting ${cavity}`} onClick={() => setNoting(true)}>
            note
          </button>
        )}
      </span>
      {bad && (
        <div className={classes.wrong}>
          <NativeSelect
            aria-label={`Defect of cavity ${cavity}`}
            value={e.bad[cavity] ?? ''}
            onChange={(c) => put({ bad: { ...e.bad, [cavity]: c.currentTarget.value } })}
            data={defects.includes(e.bad[cavity] ?? '') ? defects : [e.bad[cavity] ?? '', ...defects]}
          />
          {job?.master?.kind === 'mesh' && (
            <>
              <button type="button" className="quiet" aria-expanded={picking} onClick={() => pick(!picking)}>
                {place ? 'shown on the part' : 'show where'}
              </button>
              {place && (
                <button
                  type="button"
                  className="quiet"
                  aria-label={`Take the place of cavity ${cavity} away`}
                  onClick={() => put({ places: { ...e.places, [cavity]: null } })}
                >
                  ×
                </button>
              )}
            </>
          )}
        </div>
      )}
      {told && (
        <TextInput
          className={classes.remark}
          label={`Note on casting ${cavity}`}
          value={e.remarks[cavity] ?? ''}
          maxLength={300}
          onChange={(c) => put({ remarks: { ...e.remarks, [cavity]: c.currentTarget.value } })}
        />
      )}
      {bad && picking && job && (
        <div className={classes.picking}>
          <p className="soft">Press on the part where the defect is. By keys: v, the arrows, Enter.</p>
          <div className={classes.view}>
            <Viewer
              job={job}
              label={`Where the defect of cavity ${cavity} is`}
              up="+z"
              show="part"
              spots={place ? [place] : []}
              adding
              onAdd={(at) => {
                put({ places: { ...e.places, [cavity]: at } })
                pick(false)
              }}
            />
          </div>
        </div>
      )}
    </div>
  )
}
