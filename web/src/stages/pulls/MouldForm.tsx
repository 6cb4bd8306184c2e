import { Button, MultiSelect, NativeSelect, TextInput } from '@mantine/core'
import { useState, type FormEvent } from 'react'
import { api, type Job, type Mould } from '../../api/client'
import { changes, make } from '../../kept/changes'
import { today } from '../../parts/day'
import { Left, Refused } from '../../parts/Refused'
import { sayOutcome } from '../../parts/Say'
import { useKept } from '../../parts/useKept'
import { useSending } from '../../parts/useSending'
import classes from '../plain.module.css'
import { useDesignIfAny } from '../useDesign'
import { cavitiesIn, flaws, mouldBody, mouldEntry, rubbersOf, type MouldEntry } from './entries'

/** A mould that was poured for a job. */
export function NewMould({ job, onDone }: { job: Job; onDone: () => void }) {
  const materials = api.useQuery('get', '/materials').data ?? []
  const design = useDesignIfAny()?.design
  const rubber = materials.find((m) => m.id === design?.rubber)?.name ?? ''
  const fresh: MouldEntry = {
    number: '',
    rubber,
    poured: today(),
    cavities: String(design?.gang?.length || 1),
    pieces: '',
    place: '',
    lot: '',
    looked: 'no',
    flaws: [],
  }
  return (
    <MouldForm
      name={`new mould ${job.id}`}
      fresh={fresh}
      submit="Put it on the rack"
      onSubmit={async (e) => {
        const outcome = await make(changes.addMould(job, e))
        sayOutcome(outcome, `Mould ${e.number} is on the rack`)
        onDone()
      }}
    />
  )
}

/** A mould that is on the rack, put right. */
export function CorrectedMould({ mould, onDone }: { mould: Mould; onDone: () => void }) {
  return (
    <MouldForm
      name={`mould ${mould.id} ${mould.version}`}
      fresh={mouldEntry(mould)}
      submit="Correct it"
      onSubmit={async (e) => {
        sayOutcome(await make(changes.correctMould(mould, e)), 'Corrected')
        onDone()
      }}
    />
  )
}

interface Props {
  name: string
  fresh: MouldEntry
  submit: string
  onSubmit: (m: ReturnType<typeof mouldBody>) => Promise<void>
}

function MouldForm({ name, fresh, submit, onSubmit }: Props) {
  const { value: e, put, clear, left } = useKept(name, fresh)
  const rubbers = rubbersOf(api.useQuery('get', '/materials').data ?? [])
  const { busy, refused, sending } = useSending()
  const [tried, setTried] = useState(false)
  const cavities = cavitiesIn(e.cavities)

  async function send(event: FormEvent) {
    event.preventDefault()
    setTried(true)
    if (!e.number.trim() || !(cavities >= 1) || !e.rubber) return
    await sending(async () => {
      await onSubmit(mouldBody(e))
      clear()
      setTried(false)
    })
  }

  return (
    <form className={classes.form} onSubmit={(event) => void send(event)} noValidate>
      <TextInput
        label="Number"
        description="as it is marked on the block"
        value={e.number}
        maxLength={40}
        error={tried && !e.number.trim() && 'Write it on every side of the block'}
        onChange={(c) => put({ number: c.currentTarget.value })}
      />
      <TextInput
        label="Cavities"
        inputMode="numeric"
        value={e.cavities}
        error={tried && !(cavities >= 1) && 'A whole number from 1 to 60'}
        onChange={(c) => put({ cavities: c.currentTarget.value })}
      />
      <NativeSelect
        label="Rubber"
        value={e.rubber}
        error={tried && !e.rubber && 'Moulds of one rubber learn from one another'}
        onChange={(c) => put({ rubber: c.currentTarget.value })}
        data={rubbers.includes(e.rubber) ? rubbers : [{ value: e.rubber, label: e.rubber || 'which one?' }, ...rubbers]}
      />
      <TextInput label="Poured on" type="date" value={e.poured} max={today()} onChange={(c) => put({ poured: c.currentTarget.value })} />
      <NativeSelect
        label="At the first look it was"
        value={e.looked}
        onChange={(c) => put({ looked: c.currentTarget.value as MouldEntry['looked'] })}
        data={[
          { value: 'no', label: 'not looked at yet' },
          { value: 'clean', label: '✓ clean' },
          { value: 'flawed', label: '◆ flawed' },
        ]}
      />
      {e.looked === 'flawed' && (
        <MultiSelect
          label="Born with"
          value={e.flaws}
          onChange={(v) => put({ flaws: v })}
          data={[...new Set([...flaws, ...e.flaws])]}
          comboboxProps={{ withinPortal: false }}
        />
      )}
      <details className={classes.wide} open={e.place !== '' || e.lot !== '' || e.pieces !== ''}>
        <summary>Where it stands, its pieces and lot</summary>
        <div className={classes.form}>
          <TextInput label="Where it stands" value={e.place} maxLength={60} onChange={(c) => put({ place: c.currentTarget.value })} />
          <TextInput
            label="Pieces"
            inputMode="numeric"
            value={e.pieces}
            maxLength={2}
            onChange={(c) => put({ pieces: c.currentTarget.value })}
          />
          <TextInput label="Lot of the rubber" value={e.lot} maxLength={60} onChange={(c) => put({ lot: c.currentTarget.value })} />
        </div>
      </details>
      <Refused problem={refused} />
      <div className={classes.wide}>
        <Button type="submit" variant="default" loading={busy}>
          {submit}
        </Button>
        <Left left={left} clear={clear} />
      </div>
    </form>
  )
}
