import { Button, FileButton, NativeSelect, SegmentedControl } from '@mantine/core'
import { useEffect, useRef, useState } from 'react'
import type { Drawing } from '../../parts/viewer/geometry'
import { asProblem, client, type Outline, type Point, type Problem, type Solid } from '../../api/client'
import { MeasureInput } from '../../parts/MeasureInput'
import { Remove } from '../../parts/Remove'
import { Qty } from '../../parts/Num'
import { Row } from '../../parts/Row'
import { told } from '../../parts/units'
import { useSystem } from '../../parts/useShop'
import { say } from '../../parts/Say'
import type { Look } from './look'
import classes from './master.module.css'
import { Refused } from '../../parts/Refused'
import { useSending } from '../../parts/useSending'

type Measure = 'a' | 'b' | 'c'

/** What the measures of each solid are called. */
const measures: Record<Solid['kind'], [Measure, string][]> = {
  box: [
    ['a', 'Length'],
    ['b', 'Width'],
    ['c', 'Height'],
  ],
  cylinder: [
    ['a', 'Diameter'],
    ['c', 'Height'],
  ],
  cone: [
    ['a', 'Lower diameter'],
    ['b', 'Upper diameter'],
    ['c', 'Height'],
  ],
  sphere: [['a', 'Diameter']],
  tube: [
    ['a', 'Outer diameter'],
    ['b', 'Inner diameter'],
    ['c', 'Height'],
  ],
  prism: [['c', 'Thickness']],
  turned: [],
}

/** What a preview says before the shape: volume, surface, share off the measured one, whether that is near enough. */
const figures = 4

const fresh: Solid = { kind: 'box', cut: false, at: [0, 0, 0], axis: 'z', a: 40, b: 30, c: 20 }
const restMs = 250

interface Props {
  first: Solid[]
  busy: boolean
  setLook: (look: Look) => void
  onKeep: (solids: Solid[]) => void
}

/** Block-out: a part without a mesh, built of a few plain solids until it stands in for the real one. */
export function BlockoutPanel({ first, busy, setLook, onKeep }: Props) {
  const [solids, setSolids] = useState<Solid[]>(first)
  const [found, setFound] = useState<{ volume: number; off: number; near: boolean } | null>(null)
  const [chosen, setChosen] = useState(0)
  const [dpi, setDpi] = useState<number | null>(null)
  const [measured, setMeasured] = useState<number | null>(null)
  const [problem, setProblem] = useState<Problem | null>(null)
  const system = useSystem()
  const { refused, sending } = useSending()
  const shape = useRef<Drawing | null>(null)

  useEffect(() => {
    if (solids.length === 0) {
      setFound(null)
      setProblem(null)
      shape.current = null
      setLook({})
      return
    }
    const leave = new AbortController()
    const t = window.setTimeout(() => {
      client
        .POST('/blockout', { body: { solids, displaced: measured ?? undefined }, parseAs: 'arrayBuffer', signal: leave.signal })
        .then(async ({ data }) => {
          const bytes = data as unknown as ArrayBuffer
          const [volume, , off, near] = new Float64Array(bytes, 0, figures)
          setFound({ volume, off, near: near === 1 })
          setProblem(null)
          const { readDrawing } = await import('../../parts/viewer/geometry')
          shape.current = readDrawing(bytes.slice(8 * figures))
          show()
        })
        .catch((thrown: unknown) => {
          if (!leave.signal.aborted) setProblem(asProblem(thrown))
        })
    }, restMs)
    return () => {
      window.clearTimeout(t)
      leave.abort()
    }
  }, [solids, measured, setLook]) // eslint-disable-line react-hooks/exhaustive-deps

  const at = solids[chosen]?.at
  const touched = solids !== first
  /** Shows the block-out with the chosen solid's handle; until something is changed the master itself is shown. */
  function show() {
    if (!shape.current || !touched) return
    setLook({
      instead: shape.current,
      fit: String(solids.length),
      handle: at && { at: at as Point, onMove: (to) => put(chosen, { at: to }) },
    })
  }
  useEffect(show, [chosen, at]) // eslint-disable-line react-hooks/exhaustive-deps

  // a typed measure comes back late: it joins the solid as it is then
  const put = (i: number, part: Partial<Solid> | ((now: Solid) => Partial<Solid>)) =>
    setSolids((all) => all.map((s, k) => (k === i ? { ...s, ...(typeof part === 'function' ? part(s) : part) } : s)))

  function drawing(file: File | null) {
    if (!file) return
    void sending(async () => take((await client.POST('/outlines', { body: { text: await file.text() } })).data))
  }

  function scan(file: File | null) {
    if (!file || dpi === null) return
    const scanned = {
      params: { query: { dpi } },
      body: file as unknown as string,
      bodySerializer: (body: unknown) => body as BodyInit,
      headers: { 'Content-Type': 'application/octet-stream' },
    }
    void sending(async () => take((await client.POST('/scans', scanned)).data))
  }

  function take(data: Outline | undefined) {
    if (!data) return
    setChosen(solids.length)
    setSolids((all) => [...all, { ...fresh, kind: 'prism', c: 5, rings: data.rings }])
    say(
      `${data.rings.length === 1 ? '1 outline' : `${data.rings.length} outlines`} read, ${told(data.width, 'length', system)} by ${told(data.height, 'length', system)}${data.notes.length ? `; ${data.notes.join('; ')}` : ''}`,
    )
  }

  return (
    <div className={classes.blockout}>
      <Refused problem={refused} />
      <p className={classes.hint}>
        Added or cut away in turn, each standing on the middle of its base. Near enough is good enough: the volume tells.
      </p>
      <div data-entries>
        {solids.map((s, i) => (
          <fieldset
            key={i}
            className={classes.solid}
            data-chosen={i === chosen || undefined}
            onFocus={() => setChosen(i)}
            onPointerDown={() => setChosen(i)}
          >
            <legend>{i + 1}</legend>
            <div className={classes.solidHead}>
              <NativeSelect
                size="xs"
                aria-label={`Kind of solid ${i + 1}`}
                value={s.kind}
                onChange={(e) => put(i, { kind: e.currentTarget.value as Solid['kind'] })}
                data={s.rings ? ['prism', 'turned'] : ['box', 'cylinder', 'cone', 'sphere', 'tube']}
              />
              <SegmentedControl
                size="xs"
                aria-label={`Solid ${i + 1} is`}
                value={s.cut ? 'cut' : 'add'}
                onChange={(v) => put(i, { cut: v === 'cut' })}
                data={[
                  { value: 'add', label: 'add' },
                  { value: 'cut', label: 'cut' },
                ]}
              />
              <SegmentedControl
                size="xs"
                aria-label={`Solid ${i + 1} stands along`}
                value={s.axis}
                onChange={(axis) => put(i, { axis: axis as Solid['axis'] })}
                data={['x', 'y', 'z']}
              />
              <Remove what={`solid ${i + 1}`} onRemove={() => setSolids((all) => all.filter((_, k) => k !== i))} />
            </div>
            <div className={classes.measures}>
              {measures[s.kind].map(([key, label]) => (
                <MeasureInput
                  key={key}
                  compact
                  label={label}
                  kind="length"
                  value={s[key]}
                  onChange={(v) => v !== null && put(i, { [key]: v })}
                />
              ))}
              {(['x', 'y', 'z'] as const).map((axis, k) => (
                <MeasureInput
                  key={axis}
                  compact
                  label={`at ${axis}`}
                  kind="length"
                  value={s.at[k]}
                  onChange={(v) => v !== null && put(i, (now) => ({ at: now.at.map((x, n) => (n === k ? v : x)) }))}
                  signed
                />
              ))}
            </div>
          </fieldset>
        ))}
      </div>
      <div className={classes.snaps}>
        <Button
          size="xs"
          variant="default"
          onClick={() => {
            setChosen(solids.length)
            setSolids((all) => [...all, fresh])
          }}
        >
          Add a solid
        </Button>
        <FileButton onChange={drawing} accept=".svg,.dxf,image/svg+xml">
          {(props) => (
            <Button {...props} size="xs" variant="default">
              From a drawing, SVG or DXF
            </Button>
          )}
        </FileButton>
      </div>
      <div className={classes.two}>
        <MeasureInput compact label="Scan at, dots an inch" kind="number" value={dpi} onChange={setDpi} allowEmpty />
        <FileButton onChange={scan} accept="image/png,image/jpeg" inputProps={{ 'aria-label': 'Scan of a flat part' }}>
          {(props) => (
            <Button {...props} size="xs" variant="default" disabled={dpi === null}>
              From a flat scan
            </Button>
          )}
        </FileButton>
      </div>
      {problem && (
        <p role="alert" className={classes.caution}>
          {problem.title}. {problem.detail}
        </p>
      )}
      {found && !problem && (
        <>
          <Row label="Volume of the block-out">
            <Qty value={found.volume} kind="volume" />
          </Row>
          <div className={classes.two}>
            <MeasureInput compact label="Displaced water" kind="volume" value={measured} onChange={setMeasured} allowEmpty />
            {Number.isFinite(found.off) && (
              <p className={found.near ? classes.pro : classes.caution}>
                {found.near ? '✓ near enough, ' : '▲ '}
                {(found.off * 100).toFixed(0)} % off
              </p>
            )}
          </div>
          <Button fullWidth size="xs" mt={8} loading={busy} onClick={() => onKeep(solids)}>
            Take it as the master
          </Button>
        </>
      )}
    </div>
  )
}
