import { Button, FileButton, Loader, SegmentedControl, Tabs } from '@mantine/core'
import { useRef, useState, type DragEvent } from 'react'
import { useNavigate } from 'react-router'
import { api, client, ifMatch, Problem, type Finding, type Job, type MasterChoice } from '../api/client'
import { Findings } from '../parts/Findings'
import { MeasureInput } from '../parts/MeasureInput'
import { Qty } from '../parts/Num'
import { Row } from '../parts/Row'
import { say, sayProblem } from '../parts/Say'
import { Viewer } from '../parts/viewer/Viewer'
import type { StageProps } from './stages'
import { useDesignIfAny } from './useDesign'
import classes from './MasterStage.module.css'

const largest = 100 * 2 ** 20

/** Master: the part that is copied, as a mesh or by its measures. */
export function MasterStage({ job, refresh }: StageProps) {
  const [busy, setBusy] = useState(false)
  const [over, setOver] = useState(false)
  const depth = useRef(0)
  const navigate = useNavigate()
  const study = useDesignIfAny()?.study

  async function take(work: () => Promise<unknown>, done: string) {
    setBusy(true)
    try {
      await work()
      say(done)
    } catch (thrown) {
      sayProblem(thrown)
    }
    setBusy(false)
    refresh()
  }

  function upload(file: File | null) {
    if (!file) return
    if (file.size > largest) {
      sayProblem(new Problem('That is too large', `${Math.round(file.size / 2 ** 20)} MB; at most 100 MB can be taken. Export the mesh with fewer triangles, or as a binary file.`, 413))
      return
    }
    void take(
      () =>
        client.POST('/jobs/{jobId}/master/mesh', {
          params: { path: { jobId: job.id }, query: { filename: file.name }, header: ifMatch(job.version) },
          body: file as unknown as string,
          bodySerializer: (body) => body as unknown as BodyInit,
          headers: { 'Content-Type': 'application/octet-stream' },
        }),
      `${file.name} was read`,
    )
  }

  const choose = (body: MasterChoice, done: string) =>
    void take(() => client.PUT('/jobs/{jobId}/master', { params: { path: { jobId: job.id }, header: ifMatch(job.version) }, body }), done)

  function dragged(e: DragEvent, by: number) {
    e.preventDefault()
    depth.current += by
    setOver(depth.current > 0)
  }

  const master = job.master
  return (
    <>
      <main
        className={classes.stage}
        onDragEnter={(e) => dragged(e, 1)}
        onDragOver={(e) => e.preventDefault()}
        onDragLeave={(e) => dragged(e, -1)}
        onDrop={(e) => {
          e.preventDefault()
          depth.current = 0
          setOver(false)
          upload(e.dataTransfer.files[0] ?? null)
        }}
      >
        <section className={classes.scene} aria-label="The master in 3D">
          {master?.kind === 'mesh' ? (
            <Viewer job={job} label={`${master.name} in 3D`} up="+z" show="part" />
          ) : (
            <div className={classes.drop}>
              <p className={classes.dropTitle}>{master ? 'The shape of this master is not known' : 'Drop the master’s mesh here'}</p>
              <p className="soft">An STL file, binary or text, up to 100 MB. It stays on this server.</p>
            </div>
          )}
          {(over || busy) && (
            <div className={classes.over} role="status">
              {busy ? (
                <>
                  <Loader size="sm" /> Reading…
                </>
              ) : (
                'Let go to read it'
              )}
            </div>
          )}
        </section>
        <aside className={classes.side}>
          {master && <Facts job={job} onUnit={(unit) => choose({ unit }, 'Unit confirmed')} onNext={() => void navigate(`/jobs/${job.id}/mould`)} />}
          <h2>{master ? 'Take another master' : 'The master'}</h2>
          <Tabs defaultValue="mesh" keepMounted={false}>
            <Tabs.List grow>
              <Tabs.Tab value="mesh">Mesh file</Tabs.Tab>
              <Tabs.Tab value="measure">By measure</Tabs.Tab>
              <Tabs.Tab value="demo">Demo part</Tabs.Tab>
            </Tabs.List>
            <Tabs.Panel value="mesh" pt="sm">
              <FileButton onChange={upload} accept=".stl,model/stl" inputProps={{ 'aria-label': 'Mesh file' }}>
                {(props) => (
                  <Button {...props} variant={master ? 'default' : 'filled'} fullWidth loading={busy}>
                    Choose an STL file
                  </Button>
                )}
              </FileButton>
              {master && <p className={classes.hint}>Another shape starts the mould design afresh.</p>}
            </Tabs.Panel>
            <Tabs.Panel value="measure" pt="sm">
              <Measured busy={busy} onKeep={(measured) => choose({ measured }, 'Measures kept')} />
            </Tabs.Panel>
            <Tabs.Panel value="demo" pt="sm">
              <DemoParts onPick={(demoPart) => choose({ demoPart }, 'Demo part taken')} />
            </Tabs.Panel>
          </Tabs>
        </aside>
      </main>
      {master && (
        <Findings
          findings={[...unitFinding(job), ...(study?.findings ?? []).filter((f) => f.stage === 'master')]}
          onRemedy={() => undefined}
          settled={master.kind === 'measured' ? 'Size and volume fit together.' : study ? 'The mesh closes: its volume is exact.' : 'Looking the mesh over…'}
        />
      )}
    </>
  )
}

/** The unit is a question to the caster; the rest is the core's. */
function unitFinding(job: Job): Finding[] {
  const master = job.master
  if (!master?.mesh || master.unitConfirmed) return []
  return [
    {
      severity: 'watch', stage: 'master', what: `The unit is a guess: ${master.unit}.`, remedies: [],
      why: `${master.unitWhy}. Mesh files do not carry a unit; confirm it beside the drawing.`, source: 'size of usual cast parts, common practice',
    },
  ]
}

const units = ['mm', 'cm', 'm', 'in'] as const

function Facts({ job, onUnit, onNext }: { job: Job; onUnit: (unit: (typeof units)[number]) => void; onNext: () => void }) {
  const master = job.master!
  const mesh = master.mesh
  const [unit, setUnit] = useState(master.unit ?? 'mm')
  return (
    <>
      <h2>{master.name}</h2>
      {mesh && (
        <div className={master.unitConfirmed ? undefined : classes.ask}>
          <SegmentedControl fullWidth size="xs" aria-label="Unit of the mesh" value={unit} onChange={(u) => setUnit(u as typeof unit)} data={units.map((u) => ({ value: u, label: u }))} />
          {!master.unitConfirmed && <p className={classes.hint}>Drawn in {master.unitGuess}? {master.unitWhy}.</p>}
          {(!master.unitConfirmed || unit !== master.unit) && (
            <Button size="xs" fullWidth mt={6} onClick={() => onUnit(unit)}>
              {unit === master.unit ? `Yes, it is in ${unit}` : `It is in ${unit}`}
            </Button>
          )}
        </div>
      )}
      <Row label="Volume">
        <Qty value={master.volume} kind="volume" />
        {mesh && mesh.volumeError > 0 && (
          <span className="soft">
            {' '}
            ± <Qty value={mesh.volumeError} kind="volume" />
          </span>
        )}
      </Row>
      {mesh && (
        <Row label="Surface">
          <span className="num">
            {mesh.areaCm2.toFixed(1)}
            <small>cm²</small>
          </span>
        </Row>
      )}
      {(['x', 'y', 'z'] as const).map((axis, i) => (
        <Row key={axis} label={`Size along ${axis}`}>
          <Qty value={master.size[i]} kind="length" />
        </Row>
      ))}
      {mesh && (
        <>
          <Row label="Triangles">
            <span className="num">{mesh.triangles.toLocaleString('en-GB')}</span>
          </Row>
          <Row label="Surface closes">{mesh.closed ? 'yes' : mesh.openEdges > 0 ? `no, ${mesh.openEdges} open edges` : 'after mending'}</Row>
          <Row label="Bodies">
            <span className="num">{mesh.bodies}</span>
          </Row>
        </>
      )}
      {!mesh && <p className={classes.hint}>Volume by {master.volumeSource}.</p>}
      <Button mt="sm" mb="sm" fullWidth disabled={!master.unitConfirmed} onClick={onNext}>
        On to the mould
      </Button>
    </>
  )
}

interface Measures {
  length: number
  width: number
  height: number
  volume?: number
  mass?: number
  density?: number
}

function Measured({ busy, onKeep }: { busy: boolean; onKeep: (m: Measures) => void }) {
  const [m, setM] = useState<Record<'length' | 'width' | 'height' | 'volume' | 'mass' | 'density', number | null>>({ length: null, width: null, height: null, volume: null, mass: null, density: null })
  const [by, setBy] = useState<'water' | 'scale'>('water')
  const put = (k: keyof typeof m) => (v: number | null) => setM((old) => ({ ...old, [k]: v }))
  const whole = m.length !== null && m.width !== null && m.height !== null && (by === 'water' ? m.volume !== null : m.mass !== null && m.density !== null)
  return (
    <div className={classes.measures}>
      <MeasureInput compact label="Length (x)" kind="length" value={m.length} onChange={put('length')} allowEmpty />
      <MeasureInput compact label="Width (y)" kind="length" value={m.width} onChange={put('width')} allowEmpty />
      <MeasureInput compact label="Height (z)" kind="length" value={m.height} onChange={put('height')} allowEmpty />
      <SegmentedControl className={classes.all} fullWidth size="xs" aria-label="Volume by" value={by} onChange={(v) => setBy(v as 'water' | 'scale')}
        data={[
          { value: 'water', label: 'displaced water' },
          { value: 'scale', label: 'weight and density' },
        ]} />
      {by === 'water' ? (
        <MeasureInput compact label="Volume" kind="volume" value={m.volume} onChange={put('volume')} allowEmpty />
      ) : (
        <>
          <MeasureInput compact label="Weight" kind="mass" value={m.mass} onChange={put('mass')} allowEmpty />
          <MeasureInput compact label="Density" kind="density" value={m.density} onChange={put('density')} allowEmpty />
        </>
      )}
      <Button className={classes.all} size="xs" disabled={!whole} loading={busy}
        onClick={() =>
          onKeep({ length: m.length!, width: m.width!, height: m.height!, ...(by === 'water' ? { volume: m.volume! } : { mass: m.mass!, density: m.density! }) })
        }>
        Take these measures
      </Button>
    </div>
  )
}

function DemoParts({ onPick }: { onPick: (key: string) => void }) {
  const parts = api.useQuery('get', '/demo-parts', {}, { staleTime: Infinity }).data ?? []
  return (
    <ul className={classes.parts}>
      {parts.map((p) => (
        <li key={p.key}>
          <button type="button" onClick={() => onPick(p.key)}>
            <strong>{p.name}</strong>
            <span className="soft">{p.difficulty}</span>
          </button>
        </li>
      ))}
    </ul>
  )
}
