import { Button, NativeSelect, NumberInput, TextInput } from '@mantine/core'
import type { Job, Mould, Pull } from '../../api/client'
import { changes, make } from '../../kept/changes'
import { today } from '../../parts/day'
import { MeasureInput } from '../../parts/MeasureInput'
import { useSettled } from '../../parts/pending'
import { PressureInput } from '../../parts/PressureInput'
import { Left, Refused } from '../../parts/Refused'
import { sayOutcome } from '../../parts/Say'
import { useKept } from '../../parts/useKept'
import { useSending } from '../../parts/useSending'
import { WarmthInput } from '../../parts/WarmthInput'
import classes from '../plain.module.css'
import { LotInput } from '../../parts/LotInput'
import { useDesignIfAny } from '../useDesign'
import { CavityLine } from './CavityLine'
import { freshPull, pullBody, pullEntry } from './entries'

interface Props {
  moulds: Mould[]
  /** The pull that is put right; none for a new one. */
  pull?: Pull
  /** Whose part a defect can be shown on. */
  job?: Job
  /** A place is being shown on the part, which has one 3D view. */
  onPicking?: (picking: boolean) => void
  onDone: () => void
}

/** A pull: what was weighed in, and what came out of each cavity. */
export function PullForm({ moulds, pull, job, onPicking, onDone }: Props) {
  const form = useKept(
    pull ? `pull ${pull.id} ${pull.version}` : `new pull ${moulds[0].jobId}`,
    pull ? pullEntry(pull) : freshPull(moulds[0].id),
  )
  const { put } = form
  const e = form.value
  const mould = moulds.find((m) => m.id === e.mouldId) ?? moulds[0]
  const { busy, refused, sending } = useSending()
  const resinOf = useDesignIfAny()?.design?.resin

  async function send(meant = false) {
    const body = pullBody(form.current(), mould.cavities, meant)
    await sending(async () => {
      const outcome = await make(pull ? changes.correctPull(pull, body) : changes.logPull(mould, body))
      sayOutcome(outcome, pull ? 'Corrected' : 'Pull logged')
      form.clear()
      if (!pull) put({ mouldId: mould.id })
      onDone()
    })
  }
  const onSubmit = useSettled(() => send())

  return (
    <form className={classes.form} onSubmit={onSubmit} aria-label={pull ? 'Correct a pull' : 'Log a pull'}>
      {!pull && <h2 className={classes.wide}>Log a pull</h2>}
      {pull ? (
        <p>
          Mould <strong>{mould.number}</strong>
        </p>
      ) : (
        <NativeSelect
          label="Mould"
          value={mould.id}
          onChange={(c) => put({ mouldId: c.currentTarget.value })}
          data={moulds.map((m) => ({ value: m.id, label: m.number }))}
        />
      )}
      <TextInput
        label="Day"
        type="date"
        value={e.pulled}
        min={mould.poured}
        max={today()}
        onChange={(c) => put({ pulled: c.currentTarget.value })}
      />
      <MeasureInput label="Weight of A" kind="mass" value={e.massA} onChange={(massA) => put({ massA })} allowEmpty />
      <MeasureInput label="Weight of B" kind="mass" value={e.massB} onChange={(massB) => put({ massB })} allowEmpty />
      {Array.from({ length: mould.cavities }, (_, i) => i + 1).map((cavity) => (
        <CavityLine key={cavity} cavity={cavity} entry={e} put={put} job={job} onPicking={onPicking} />
      ))}
      <TextInput
        className={classes.wide}
        label="Notes"
        value={e.notes}
        maxLength={1000}
        onChange={(c) => put({ notes: c.currentTarget.value })}
      />
      <details className={classes.wide} open={given(e)}>
        <summary>What it was made under</summary>
        <div className={classes.form}>
          <TextInput label="Poured at" type="time" value={e.at} onChange={(c) => put({ at: c.currentTarget.value })} />
          <Figure label="Out of the mould after, min" value={e.out} onChange={(out) => put({ out })} />
          <WarmthInput label="In the shop" value={e.celsius} onChange={(celsius) => put({ celsius })} allowEmpty />
          <Figure label="Humidity, %" value={e.humidity} onChange={(humidity) => put({ humidity })} />
          <PressureInput label="Pressure" value={e.pressure} onChange={(pressure) => put({ pressure })} allowEmpty />
          <LotInput label="Lot of the resin" material={resinOf ?? undefined} value={e.lot} onChange={(lot) => put({ lot })} />
          <TextInput label="Who" value={e.who} maxLength={60} onChange={(c) => put({ who: c.currentTarget.value })} />
        </div>
      </details>
      <details className={classes.wide} open={e.colour !== '' || e.finishing !== null}>
        <summary>Colour and finishing</summary>
        <div className={classes.form}>
          <TextInput
            label="Colour recipe"
            placeholder="grey 1.2 g in 80 g"
            value={e.colour}
            maxLength={200}
            onChange={(c) => put({ colour: c.currentTarget.value })}
          />
          <NativeSelect
            label="The colour"
            value={e.matched}
            onChange={(c) => put({ matched: c.currentTarget.value as typeof e.matched })}
            data={[
              { value: '', label: 'nobody has said' },
              { value: 'yes', label: '✓ matched' },
              { value: 'no', label: '◆ did not match' },
            ]}
          />
          <Figure label="Finishing in all, min" value={e.finishing} onChange={(finishing) => put({ finishing })} />
        </div>
      </details>
      <Refused problem={refused}>
        {refused?.meant && (
          <p>
            <Button size="xs" variant="default" onClick={() => void send(true)}>
              Log it as it was weighed
            </Button>
          </p>
        )}
      </Refused>
      <div className={classes.wide}>
        <Button type="submit" loading={busy}>
          {pull ? 'Correct it' : 'Log the pull'}
        </Button>
        <Left left={form.left && !onlyMould(form.value, mould.id, pull)} clear={form.clear} />
      </div>
    </form>
  )
}

/** Whether anything of it was written down. */
const given = (e: ReturnType<typeof freshPull>) =>
  e.celsius !== null || e.humidity !== null || e.pressure !== null || e.who !== '' || e.lot !== '' || e.at !== '' || e.out !== null

function Figure({ label, value, onChange }: { label: string; value: number | null; onChange: (v: number | null) => void }) {
  return <NumberInput label={label} hideControls value={value ?? ''} onChange={(v) => onChange(v === '' ? null : Number(v))} />
}

/** Nothing but the mould was chosen, which loses nobody's work. */
function onlyMould(e: ReturnType<typeof freshPull>, mouldId: string, pull?: Pull) {
  return JSON.stringify(e) === JSON.stringify(pull ? pullEntry(pull) : freshPull(mouldId))
}
