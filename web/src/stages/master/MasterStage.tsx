import { Button, FileButton, Loader, Tabs } from '@mantine/core'
import { useCallbackRef } from '@mantine/hooks'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import type { Finding, Job } from '../../api/client'
import { Findings } from '../../parts/Findings'
import { Refused } from '../../parts/Refused'
import { dropped } from '../../places/dropped'
import type { ViewHandle } from '../../parts/viewer/Scene'
import { Viewer } from '../../parts/viewer/Viewer'
import type { StageProps } from '../stages'
import { useDesignIfAny } from '../useDesign'
import { useRemedies } from '../useRemedies'
import { BlockoutPanel } from './BlockoutPanel'
import { BriefPanel } from './BriefPanel'
import { DrawPanel } from './DrawPanel'
import { KindPanel } from './KindPanel'
import classes from './master.module.css'
import { DemoParts, Facts, Measured } from './PartPanel'
import { EarlierDesigns } from './EarlierDesigns'
import { PourPanel } from './PourPanel'
import { PrepPanel } from './PrepPanel'
import type { Look } from './look'
import { useAddressed } from '../../parts/useAddressed'
import { useSurvey } from './useSurvey'
import { useTaking } from './useTaking'
import { WallsPanel } from './WallsPanel'

/** What can be asked of a master with a shape, and of one that is known by its measures. */
const shaped = [
  ['part', 'Part'],
  ['draw', 'Draw'],
  ['walls', 'Walls'],
  ['pour', 'Pour'],
  ['brief', 'Brief'],
  ['kind', 'Kind'],
  ['prep', 'Prep'],
] as const
/** Panels that look at the design as well. */
const asksDesign = ['draw', 'brief', 'kind']
const measured = shaped.filter(([t]) => ['part', 'brief', 'kind', 'prep'].includes(t))

/** Master: the part that is copied, and all that can be known of it before rubber is poured. */
export function MasterStage({ job, refresh }: StageProps) {
  const [tab, setTab] = useAddressed(job.id, 'master')
  const [look, setLook] = useState<Look>({})
  const [marked, setMarked] = useState<readonly number[] | null>(null)
  const handle = useRef<ViewHandle>(null)
  const navigate = useNavigate()
  const remedy = useRemedies(job)
  const work = useDesignIfAny()
  const survey = useSurvey(job)

  const { taking, read, choose, turn: turnMaster, goBack } = useTaking(job, refresh)
  const busy = taking.doing !== null
  const turn: typeof turnMaster = (...how) => {
    setLook({})
    turnMaster(...how)
  }

  const readLatest = useCallbackRef(read)
  useEffect(() => {
    const look = () => {
      const file = dropped.take(job.id)
      if (file) readLatest(file)
    }
    look()
    return dropped.watch(look)
  }, [job.id, readLatest])

  function show(at: readonly number[]) {
    setMarked(at)
    handle.current?.lookAt(at)
  }

  const master = job.master
  const shape = master?.kind === 'mesh'
  const tabs = shape ? shaped : master ? measured : []
  const at = tab !== null && tabs.some(([t]) => t === tab) ? tab : 'part'
  const found = [
    ...unitFinding(job),
    ...(survey.data?.findings ?? []),
    ...(work?.study?.findings ?? []).filter((f) => f.stage === 'master'),
  ]
  const known = { job, survey: survey.data, look, setLook, show, turn, refresh, busy }
  return (
    <>
      <main className={classes.stage}>
        <section className={classes.scene} aria-label="The master in 3D">
          {look.instead ? (
            <Viewer job={job} label="The block-out in 3D" up="+z" show="part" instead={look.instead} fit={look.fit} handle={look.handle} />
          ) : shape ? (
            <Viewer
              ref={handle}
              job={job}
              label={`${master.name} in 3D`}
              up="+z"
              show="part"
              marked={marked}
              upVector={look.up}
              paint={look.paint}
              spots={look.spots}
              arrow={look.arrow}
              adding={look.pick !== undefined}
              onAdd={look.pick}
            />
          ) : (
            <div className={classes.drop}>
              <p className={classes.dropTitle}>{master ? 'The shape of this master is not known' : 'Drop the master’s mesh here'}</p>
              <p className="soft">
                {master
                  ? 'Draw, walls and air ask for a mesh; kind, box, rubber and shot go on without.'
                  : 'An STL, OBJ or 3MF file, up to 100 MB. It stays on this server.'}
              </p>
            </div>
          )}
          {look.legend && <div className={classes.legend}>{look.legend}</div>}
          {busy && (
            <div className={classes.over} role="status">
              <Loader size="sm" /> {taking.doing}
              {taking.share !== null && taking.share < 1 && <progress value={taking.share} aria-label="Share of the file that is sent" />}
              {taking.cancel && (
                <Button size="xs" variant="default" onClick={taking.cancel}>
                  Call it off
                </Button>
              )}
            </div>
          )}
        </section>
        <aside className={classes.side}>
          {tabs.length > 0 && (
            <Tabs
              value={at}
              onChange={(t) => {
                setTab(t)
                setLook({})
              }}
              className={classes.tabs}
            >
              <Tabs.List aria-label="What is known of the master">
                {tabs.map(([t, label]) => (
                  <Tabs.Tab key={t} value={t}>
                    {label}
                  </Tabs.Tab>
                ))}
              </Tabs.List>
            </Tabs>
          )}
          <Refused problem={taking.refused}>
            {taking.again && (
              <p>
                <Button size="xs" variant="default" onClick={taking.again}>
                  Try it again
                </Button>
              </p>
            )}
          </Refused>
          {at === 'part' && (
            <>
              {master && (
                <Facts
                  key={master.unit}
                  job={job}
                  onUnit={(unit) => choose({ unit }, 'Unit confirmed')}
                  onNext={() => void navigate(`/jobs/${job.id}/mould`)}
                  onBack={master.turned ? () => turn([0, 0, 1], 'back', 'It stands as it was drawn') : undefined}
                />
              )}
              <h2>{master ? 'Take another master' : 'The master'}</h2>
              <Tabs
                defaultValue={master?.solids ? 'block' : 'mesh'}
                keepMounted={false}
                onChange={() => setLook({})}
                className={classes.sources}
              >
                <Tabs.List>
                  <Tabs.Tab value="mesh">Mesh file</Tabs.Tab>
                  <Tabs.Tab value="block">Block-out</Tabs.Tab>
                  <Tabs.Tab value="measure">By measure</Tabs.Tab>
                  <Tabs.Tab value="demo">Demo part</Tabs.Tab>
                </Tabs.List>
                <Tabs.Panel value="mesh" pt="sm">
                  <FileButton
                    onChange={(f) => read(f)}
                    accept=".stl,.obj,.3mf,model/stl,model/obj,model/3mf"
                    inputProps={{ 'aria-label': 'Mesh file' }}
                  >
                    {(props) => (
                      <Button {...props} variant={master ? 'default' : 'filled'} fullWidth loading={busy}>
                        Choose an STL, OBJ or 3MF file
                      </Button>
                    )}
                  </FileButton>
                  {master && <p className={classes.hint}>Another shape starts the mould design afresh; this one can be gone back to.</p>}
                </Tabs.Panel>
                <Tabs.Panel value="block" pt="sm">
                  <BlockoutPanel
                    first={master?.solids ?? []}
                    busy={busy}
                    setLook={setLook}
                    onKeep={(solids) => {
                      setLook({})
                      choose({ blockout: { solids } }, 'The block-out is the master now')
                    }}
                  />
                </Tabs.Panel>
                <Tabs.Panel value="measure" pt="sm">
                  <Measured busy={busy} onKeep={(measured) => choose({ measured }, 'Measures kept')} />
                </Tabs.Panel>
                <Tabs.Panel value="demo" pt="sm">
                  <DemoParts onPick={(demoPart) => choose({ demoPart }, 'Demo part taken')} />
                </Tabs.Panel>
              </Tabs>
              <EarlierDesigns key={job.version} job={job} busy={busy} goBack={goBack} />
            </>
          )}
          {!work && asksDesign.includes(at) && <p className={classes.hint}>Opening the design…</p>}
          {work && at === 'draw' && <DrawPanel {...known} />}
          {at === 'walls' && <WallsPanel {...known} />}
          {at === 'pour' && <PourPanel {...known} />}
          {work && at === 'brief' && <BriefPanel {...known} />}
          {work && at === 'kind' && <KindPanel {...known} />}
          {at === 'prep' && <PrepPanel {...known} />}
        </aside>
      </main>
      {master && (
        <Findings
          findings={found}
          onShow={(f) => f.where && show(f.where)}
          onRemedy={remedy}
          settled={
            !survey.data ? 'Looking the master over…' : shape ? 'Nothing stands against this master.' : 'Size and volume fit together.'
          }
          unsettled={!survey.data}
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
      severity: 'watch',
      stage: 'master',
      what: `The unit is a guess: ${master.unit}.`,
      remedies: [],
      why: `${master.unitWhy}. Mesh files do not carry a unit; confirm it beside the drawing.`,
      source: 'size of usual cast parts, common practice',
    },
  ]
}
