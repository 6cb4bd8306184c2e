import { FileButton, Loader, NativeSelect } from '@mantine/core'
import { useQueryClient } from '@tanstack/react-query'
import { client, ifMatch, type Job, Problem } from '../../api/client'
import { Num, Qty } from '../../parts/Num'
import { Row } from '../../parts/Row'
import { say } from '../../parts/Say'
import { MeasureInput } from '../../parts/MeasureInput'
import { useDesign } from '../useDesign'
import classes from './mould.module.css'
import { Templates } from './Templates'
import { useKinds, type MouldWork } from '../useMould'
import { Broken } from '../../parts/Broken'
import { Refused } from '../../parts/Refused'
import { useSending } from '../../parts/useSending'

/** Build: the kind of mould, what it takes, and what goes to the bench. */
export function BuildPanel({ job, work }: { job: Job; work: MouldWork }) {
  const { design, study, set } = useDesign()
  const { build, stage } = work
  const kind = study?.mould.kind ?? ''
  const kinds = useKinds()
  const skin = kinds.find((k) => k.kind === kind)?.skin
  return (
    <>
      <h2>Built as</h2>
      <NativeSelect
        size="xs"
        label="Kind of mould"
        value={kind}
        onChange={(e) => set({ kind: e.currentTarget.value })}
        data={kinds.map((k) => ({ value: k.kind, label: k.name }))}
      />
      {skin !== undefined && (
        <MeasureInput
          compact
          label="Rubber in the shell"
          kind="length"
          value={design.skin || skin}
          onChange={(v) => v !== null && set({ skin: v })}
        />
      )}
      {stage !== null && (
        <div className={classes.progress} role="status">
          <Loader size="xs" /> {stage}…
        </div>
      )}
      <Broken problem={work.broken} again={work.again} />
      {build && (
        <>
          <h2>What it takes</h2>
          <Row label="First casting out">
            <span className="num">{moment(build.firstPull)}</span>
          </Row>
          {build.mould.rubber && (
            <Row label="Rubber of the mould">
              <Num label="Rubber of the mould" number={build.mould.rubber} />
            </Row>
          )}
          {build.mould.mixed && (
            <Row label="Rubber to mix">
              <Num label="Rubber to mix" number={build.mould.mixed} />
            </Row>
          )}
          {build.mould.clay && build.mould.clayMass && (
            <Row label="Clay">
              <Num label="Clay" number={build.mould.clay} /> <span className="soft">or</span>{' '}
              <Num label="Mass of the clay" number={build.mould.clayMass} />
            </Row>
          )}
          <Row label="Work">
            <Num label="Work" number={build.hands} />
          </Row>
          <Row label="Curing and drying">
            <Num label="Curing and drying" number={build.waits} />
          </Row>
          <Row label="To the first casting, in all">
            <Num label="To the first casting" number={build.first} />
          </Row>
          <Row label="Pulls of a mould, about">
            <Num label="Pulls of a mould" number={build.mould.life} />
          </Row>
          <Row label="Finishing a casting">
            <Num rough label="Finishing a casting" number={build.finish} /> <span className="soft">min</span>
          </Row>
          <Row label="Moulds for the order">
            <Num label="Moulds for the order" number={build.moulds} />
          </Row>
          <Row label="The whole order, as hours">
            <Num label="The whole order, as hours" number={build.effort} />
          </Row>
          {build.weight && (
            <Row label="Weight with a shot in it">
              <Num label="Weight with a shot in it" number={build.weight} />
            </Row>
          )}
          <Row label="Stands for the resin on">
            <Qty value={build.across} kind="length" /> <span className="soft">round,</span> <Qty value={build.tall} kind="length" />{' '}
            <span className="soft">tall</span>
          </Row>
          {build.extras.map((e) => (
            <Row key={e.name} label={e.name}>
              <Num label={e.name} number={e.number} />
            </Row>
          ))}
          <h2>To the bench</h2>
          <a className={classes.sheet} href={`/api/jobs/${job.id}/build-sheet.pdf?kind=${kind}`} download>
            Build sheet, PDF
          </a>
          {build.sheets.map((s) => (
            <Templates key={s.sheet} label={s.label} path={`/api/jobs/${job.id}/templates/${s.sheet}`} query={`?kind=${kind}`} />
          ))}
          {build.bodies.map((b) => (
            <Row key={b.body} label={b.label}>
              <span className={classes.files}>
                {['stl', '3mf'].map((form) => (
                  <a
                    key={form}
                    href={`/api/jobs/${job.id}/bodies/${b.body}/${form}?kind=${kind}`}
                    download
                    aria-label={`${b.label} as ${form.toUpperCase()}`}
                  >
                    {form.toUpperCase()}
                  </a>
                ))}
              </span>
            </Row>
          ))}
          <Document job={job} />
        </>
      )}
    </>
  )
}

/** The design as one document, out and in. */
function Document({ job }: { job: Job }) {
  const { keeping, version, loadNewest } = useDesign()
  const { refused, sending } = useSending()
  const queries = useQueryClient()
  async function read(file: File | null) {
    if (!file) return
    await sending(async () => {
      const doc = designIn(await file.text())
      const kept = (await client.GET('/jobs/{jobId}/design', { params: { path: { jobId: job.id } } })).data!
      const { data } = await client.PUT('/jobs/{jobId}/design/file', {
        params: { path: { jobId: job.id }, header: ifMatch(kept.version) },
        body: doc as never,
      })
      say(data!.notes.length ? `The design was read. ${data!.notes.join(' ')}` : 'The design was read')
      loadNewest()
      void queries.invalidateQueries()
    })
  }
  return (
    <>
      <Row label="The design as a document">
        <span className={classes.files}>
          <a
            href={`/api/jobs/${job.id}/design/file`}
            download={`${job.order.name}-design-v${version}.json`}
            aria-label="The design as JSON"
          >
            JSON
          </a>
          <FileButton accept="application/json,.json" onChange={(f) => void read(f)}>
            {(props) => (
              <button type="button" className="quiet" disabled={keeping === 'keeping'} {...props}>
                read one
              </button>
            )}
          </FileButton>
        </span>
      </Row>
      <Refused problem={refused} />
    </>
  )
}

/** A design document as it was read. */
function designIn(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    throw new Problem('That is no design document', 'Choose a JSON file that was written here.', 422)
  }
}

/** A moment of a plan, in the words of the shop. */
export function moment(at: string): string {
  return new Date(at)
    .toLocaleString('en-GB', { weekday: 'short', day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
    .replace(',', '')
}
