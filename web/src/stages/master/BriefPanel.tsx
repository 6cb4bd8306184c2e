import { Button, NativeSelect, NumberInput, SegmentedControl, TextInput } from '@mantine/core'
import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { api, asProblem, client, type Brief, type Point, type Problem, type Survey } from '../../api/client'
import { MeasureInput } from '../../parts/MeasureInput'
import { Qty } from '../../parts/Num'
import { today } from '../../parts/day'
import { Refused } from '../../parts/Refused'
import { say } from '../../parts/Say'
import { Remove } from '../../parts/Remove'
import { RubberPicker } from '../RubberPicker'
import { useDesign } from '../useDesign'
import type { PanelProps } from './look'
import classes from './master.module.css'
import { useBrief } from './useBrief'

const inserts = { thread: 'threaded insert', hole: 'hole through', core: 'metal core', magnet: 'magnet' }

const wants: [Brief['wants'][number], string][] = [
  ['rigid', 'rigid'],
  ['flexible', 'flexible'],
  ['clear', 'clear'],
  ['outdoor', 'outdoors'],
  ['heat', 'heat of a closed car'],
  ['strong', 'strong, 40 MPa'],
  ['tinted', 'coloured through'],
  ['dark', 'dark or full colour'],
  ['pressure', 'no bubbles'],
  ['skin', 'food or skin'],
]

/** Materials held against what is asked, those that fit first. */
function Suited({
  title,
  all,
  chosen,
  onChoose,
}: {
  title: string
  all: Survey['resins']
  chosen: string | null | undefined
  onChoose: (id: string) => void
}) {
  return (
    <>
      <h2>{title}</h2>
      <ul className={classes.suited}>
        {all.map((m) => (
          <li key={m.id} data-out={!m.fits || undefined}>
            <div className={classes.kindHead}>
              <strong>{m.name}</strong>
              <Button
                size="compact-xs"
                variant={chosen === m.id ? 'filled' : 'default'}
                aria-label={`${chosen === m.id ? 'Chosen' : 'Choose'}: ${m.name}`}
                onClick={() => onChoose(m.id)}
              >
                {chosen === m.id ? 'chosen' : 'choose'}
              </Button>
            </div>
            {m.for.map((r) => (
              <p key={r} className={classes.pro}>
                + {r}
              </p>
            ))}
            {m.against.map((r) => (
              <p key={r} className={classes.con}>
                − {r}
              </p>
            ))}
            {m.test && <p className={classes.caution}>▲ Test first: {m.test}</p>}
          </li>
        ))}
      </ul>
    </>
  )
}

/** Brief: what the casting must be, what the master is, and how it was measured. */
export function BriefPanel({ job, survey, setLook, show, refresh }: PanelProps) {
  const [refused, setRefused] = useState<Problem | null>(null)
  const put = useBrief({ job, refresh }, setRefused)
  const { design, set } = useDesign()
  const queries = useQueryClient()
  const b = job.brief
  const shelf = api.useQuery('get', '/materials').data ?? []
  const rubber = shelf.find((m) => m.id === design.rubber)
  const [kind, setKind] = useState<NonNullable<Brief['check']>['kind']>(b.check?.kind ?? 'length')
  const [value, setValue] = useState<number | null>(b.check?.value ?? null)
  const [density, setDensity] = useState<number | null>(b.check?.density || null)
  const [adding, setAdding] = useState<keyof typeof inserts>('thread')
  const [note, setNote] = useState('')
  const [metal, setMetal] = useState<number | null>(null)
  const [marking, setMarking] = useState<number | null>(null)

  useEffect(() => {
    const pick = (at: Point) => {
      put((now) => ({ inserts: now.inserts.map((x, i) => (i === marking ? { ...x, at } : x)) }))
      setMarking(null)
    }
    setLook({ spots: b.inserts.flatMap((x) => (x.at ? [x.at] : [])), pick: marking === null ? undefined : pick })
  }, [b.inserts, marking, setLook]) // eslint-disable-line react-hooks/exhaustive-deps
  const quantity = { length: 'length', volume: 'volume', mass: 'mass' } as const

  function log(cured: boolean) {
    if (!rubber) return
    const body = { rubber: rubber.name, surface: b.surface, tested: today(), cured }
    client
      .POST('/inhibition-tests', { body })
      .then(() => (setRefused(null), say(cured ? 'Noted: it cured' : 'Noted: it stayed tacky')))
      .catch((thrown: unknown) => setRefused(asProblem(thrown)))
      .finally(() => void queries.invalidateQueries({ queryKey: ['survey'] })) // what was found out counts from now on
  }

  return (
    <>
      <Refused problem={refused} />
      <h2>How good it must be</h2>
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="Quality"
        value={b.quality}
        onChange={(q) => put(() => ({ quality: q as Brief['quality'] }))}
        data={[
          { value: 'decorative', label: 'decorative' },
          { value: 'good', label: 'good' },
          { value: 'precision', label: 'precision' },
        ]}
      />
      <h2>What the casting must be</h2>
      <div className={classes.snaps}>
        {wants.map(([w, label]) => (
          <Button
            key={w}
            size="compact-xs"
            variant={b.wants.includes(w) ? 'filled' : 'default'}
            aria-pressed={b.wants.includes(w)}
            onClick={() => put((now) => ({ wants: now.wants.includes(w) ? now.wants.filter((x) => x !== w) : [...now.wants, w] }))}
          >
            {label}
          </Button>
        ))}
      </div>
      {b.wants.includes('flexible') && (
        <MeasureInput
          compact
          label="How soft, Shore A"
          kind="number"
          value={b.shore ?? null}
          onChange={(v) => put(() => ({ shore: v ?? undefined }))}
          allowEmpty
        />
      )}
      <Suited title="Resins on the shelf" all={survey?.resins ?? []} chosen={design.resin} onChoose={(resin) => set({ resin })} />
      <Suited
        title="Rubbers for them and this master"
        all={survey?.rubbers ?? []}
        chosen={design.rubber}
        onChoose={(rubber) => set({ rubber })}
      />
      <h2>What the master is</h2>
      <div className={classes.two}>
        <NativeSelect
          label="Made of"
          value={b.surface || 'unknown'}
          onChange={(e) => {
            const surface = e.currentTarget.value
            put(() => ({ surface }))
          }}
          data={survey?.surfaces ?? [b.surface || 'unknown']}
        />
        <NumberInput
          label="Generation"
          min={1}
          max={9}
          value={b.generation}
          onChange={(v) => typeof v === 'number' && v !== b.generation && put(() => ({ generation: v }))}
        />
      </div>
      <p className={classes.hint}>Generation 2 is a casting used as a master: its shrink is counted again.</p>
      <h2>Will the rubber cure on it?</h2>
      <RubberPicker />
      {rubber && b.surface && b.surface !== 'unknown' && (
        <div className={classes.snaps}>
          <span className="soft">A dab of it on the {b.surface}:</span>
          <Button size="compact-xs" variant="default" onClick={() => log(true)}>
            cured
          </Button>
          <Button size="compact-xs" variant="default" onClick={() => log(false)}>
            stayed tacky
          </Button>
        </div>
      )}
      <h2>Your own measure of it</h2>
      <SegmentedControl
        fullWidth
        size="xs"
        aria-label="Measured"
        value={kind}
        onChange={(k) => {
          setKind(k as typeof kind)
          setValue(null)
        }}
        data={[
          { value: 'length', label: 'longest side' },
          { value: 'volume', label: 'water' },
          { value: 'mass', label: 'weight' },
        ]}
      />
      <div className={classes.two}>
        <MeasureInput
          compact
          label={{ length: 'Longest side', volume: 'Displaced water', mass: 'Weight' }[kind]}
          kind={quantity[kind]}
          value={value}
          onChange={setValue}
          onEdit={() => setValue(null)}
          allowEmpty
        />
        {kind === 'mass' && (
          <MeasureInput
            compact
            label="Density"
            kind="density"
            value={density}
            onChange={setDensity}
            onEdit={() => setDensity(null)}
            allowEmpty
          />
        )}
      </div>
      <div className={classes.snaps}>
        <Button
          size="compact-xs"
          disabled={value === null || (kind === 'mass' && density === null)}
          onClick={() => put(() => ({ check: { kind, value: value!, ...(kind === 'mass' ? { density: density! } : {}) } }))}
        >
          Hold it against the mesh
        </Button>
        {b.check && (
          <Button size="compact-xs" variant="default" onClick={() => put(() => ({ check: undefined }))}>
            Forget it
          </Button>
        )}
      </div>
      <h2>Inserts and cores</h2>
      <ul className={classes.list}>
        {b.inserts.map((x, i) => (
          <li key={i}>
            <span>
              {inserts[x.kind]}
              {x.note ? `, ${x.note}` : ''}
              {x.volume ? (
                <>
                  {' '}
                  · <Qty value={x.volume} kind="volume" /> of metal
                </>
              ) : null}
            </span>
            {x.at && (
              <Button size="compact-xs" variant="subtle" aria-label={`Show insert ${i + 1}`} onClick={() => show(x.at!)}>
                show
              </Button>
            )}
            <Button
              size="compact-xs"
              variant={marking === i ? 'filled' : 'default'}
              aria-pressed={marking === i}
              aria-label={`Mark insert ${i + 1} on the part`}
              onClick={() => setMarking(marking === i ? null : i)}
            >
              {marking === i ? 'press the part' : x.at ? 'move' : 'mark'}
            </Button>
            <Remove what={`insert ${i + 1}`} onRemove={() => put((now) => ({ inserts: now.inserts.filter((_, k) => k !== i) }))} />
          </li>
        ))}
      </ul>
      <div className={classes.two}>
        <NativeSelect
          aria-label="Kind of insert"
          value={adding}
          onChange={(e) => setAdding(e.currentTarget.value as keyof typeof inserts)}
          data={Object.entries(inserts).map(([value, label]) => ({ value, label }))}
        />
        <TextInput
          aria-label="Note on the insert"
          placeholder="M4, top face"
          value={note}
          onChange={(e) => setNote(e.currentTarget.value)}
        />
      </div>
      {adding !== 'hole' && (
        <MeasureInput compact label="Resin that it takes the place of" kind="volume" value={metal} onChange={setMetal} allowEmpty />
      )}
      <Button
        mt={6}
        size="compact-xs"
        variant="default"
        onClick={() => {
          put((now) => ({ inserts: [...now.inserts, { kind: adding, note, ...(metal && adding !== 'hole' ? { volume: metal } : {}) }] }))
          setMarking(b.inserts.length)
          setNote('')
          setMetal(null)
        }}
      >
        Add the insert
      </Button>
      {marking !== null && (
        <p className={classes.hint} role="status">
          Press the part where it sits.
        </p>
      )}
    </>
  )
}
