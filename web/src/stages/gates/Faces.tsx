import { Button } from '@mantine/core'
import { Fragment } from 'react'
import { Qty } from '../../parts/Num'
import { Remove } from '../../parts/Remove'
import classes from '../panel.module.css'
import { useDesign } from '../useDesign'

/** What a press on the part puts there. */
export type Press = 'vent' | 'show' | 'spare'

/** The faces of the part that show, and those to spare for scars: marked by a press on the part. */
export function Faces({ press, setPress }: { press: Press | null; setPress: (press: Press | null) => void }) {
  const { design, set } = useDesign()
  const faces = design.faces ?? []
  const mark = (kind: 'show' | 'spare', label: string) => (
    <Button
      size="compact-xs"
      variant={press === kind ? 'filled' : 'default'}
      aria-pressed={press === kind}
      onClick={() => setPress(press === kind ? null : kind)}
    >
      {label}
    </Button>
  )
  return (
    <>
      <div className={classes.head}>
        <h2>Faces</h2>
        {mark('show', 'Shows')}
        {mark('spare', 'To spare')}
      </div>
      <ul className={classes.vents} aria-label="Marked faces">
        {faces.map((f, i) => (
          <li key={i}>
            <span>
              {f.show ? 'shows' : 'to spare'}{' '}
              <span className="soft">
                at{' '}
                {f.at.map((x, k) => (
                  <Fragment key={k}>
                    {k > 0 && ', '}
                    <Qty value={x} kind="length" />
                  </Fragment>
                ))}
              </span>
            </span>
            <Remove
              what={`the mark on face ${i + 1}`}
              onRemove={() => set((now) => ({ faces: (now.faces ?? []).filter((_, k) => k !== i) }))}
            />
          </li>
        ))}
        {faces.length === 0 && <li className="soft">None marked: scars go where air and resin want them.</li>}
      </ul>
    </>
  )
}
