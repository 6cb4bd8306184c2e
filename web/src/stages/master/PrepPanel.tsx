import type { Problem } from '../../api/client'
import { Button, Checkbox } from '@mantine/core'
import { useRef, useState } from 'react'
import { MeasureInput } from '../../parts/MeasureInput'
import { WarmthInput } from '../../parts/WarmthInput'
import type { PanelProps } from './look'
import classes from './master.module.css'
import { useBrief } from './useBrief'
import { Refused } from '../../parts/Refused'

/** Prep: what this master needs before rubber touches it, ticked off as it is done. */
export function PrepPanel({ job, survey, refresh }: PanelProps) {
  const [refused, setRefused] = useState<Problem | null>(null)
  const put = useBrief({ job, refresh }, setRefused)
  // a typed measure is read by the server and comes back late: it joins the reading as it is then
  const day = useRef<{ celsius: number | null; humidity: number | null }>(job.brief.day ?? { celsius: null, humidity: null })
  const [{ celsius, humidity }, setShown] = useState(day.current)
  const read = (part: Partial<typeof day.current>) => {
    day.current = { ...day.current, ...part }
    setShown(day.current)
    const { celsius: c, humidity: h } = day.current
    put(() => ({ day: c !== null && h !== null ? { celsius: c, humidity: h } : undefined }))
  }
  if (!survey) return <p className={classes.hint}>Making the list…</p>
  const done = survey.prep.filter((s) => s.done).length
  return (
    <>
      <Refused problem={refused} />
      <div className={classes.kindHead}>
        <h2>
          Before the rubber · {done} of {survey.prep.length}
        </h2>
        <Button size="compact-xs" variant="default" onClick={() => window.print()}>
          Print
        </Button>
      </div>
      <div className={classes.two}>
        <WarmthInput compact label="In the shop today" value={celsius} onChange={(v) => read({ celsius: v })} allowEmpty signed />
        <MeasureInput compact label="Humidity" kind="number" unit="%" value={humidity} onChange={(v) => read({ humidity: v })} allowEmpty />
      </div>
      <ul className={classes.prep}>
        {survey.prep.map((s) => (
          <li key={s.key}>
            <Checkbox
              checked={s.done}
              label={s.do}
              onChange={() => put((now) => ({ done: s.done ? now.done.filter((k) => k !== s.key) : [...now.done, s.key] }))}
            />
            <p className="soft">{s.why}</p>
            {s.caution && <p className={classes.caution}>▲ {s.caution}</p>}
          </li>
        ))}
      </ul>
      <p className={classes.hint}>Data sheets, local rules and licensed practice go before this list.</p>
    </>
  )
}
