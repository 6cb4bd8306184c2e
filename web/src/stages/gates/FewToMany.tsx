import { Button, Slider } from '@mantine/core'
import { useQuery } from '@tanstack/react-query'
import { client, type Design, type Job } from '../../api/client'
import { Num } from '../../parts/Num'
import classes from '../panel.module.css'
import { useDesign } from '../useDesign'

/** How many of the proposed vents that are needed are there from the beginning: the rest are places to cut later. */
export function FewToMany({ job }: { job: Job }) {
  const { design, set, tryOut } = useDesign()
  const { kind, resinUp, tilt, feed, sprueBore, ventBore, faces } = design
  const ranked = useQuery({
    queryKey: ['ranked vents', job.id, job.master?.mesh?.key, job.brief.kind, kind, resinUp, tilt, feed, sprueBore, ventBore, faces],
    queryFn: async ({ signal }) =>
      (await client.POST('/jobs/{jobId}/vents/ranked', { params: { path: { jobId: job.id } }, body: design, signal })).data!,
    staleTime: Infinity,
    retry: false,
  })
  if (!ranked.data || ranked.data.vents.length === 0) return null
  const { vents } = ranked.data
  const first = (n: number) => vents.slice(0, n).map((r) => r.vent)
  const there = vents.map((r) => design.vents.some((v) => same(v, r.vent)))
  const taken = there.filter(Boolean).length
  const own = design.vents.length - taken
  const inOrder = there.lastIndexOf(true) < taken // what each of the rest spares is known where none before it is missing
  return (
    <div className={classes.many}>
      <span className={classes.manyLabel}>
        Few to many
        <span className="soft">
          {taken} of {vents.length} proposed{own > 0 && `, ${own} of your own`}
        </span>
      </span>
      <Slider
        min={0}
        max={vents.length}
        value={taken}
        label={null}
        thumbLabel="Vents, few to many"
        onChange={(n) => tryOut({ vents: first(n) })}
        onChangeEnd={(n) => set({ vents: first(n) })}
      />
      {taken < vents.length && (
        <>
          <p className="soft">To cut later, should a pull show a void there:</p>
          <ul className={classes.vents} aria-label="Places to cut later">
            {vents.map(
              (r, i) =>
                !there[i] && (
                  <li key={i}>
                    <span>
                      place {i + 1}
                      {inOrder && (
                        <>
                          {' '}
                          <span className="soft">spares</span> <Num label={`Air that place ${i + 1} spares`} number={r.spares} />
                        </>
                      )}
                    </span>
                    <Button
                      size="compact-xs"
                      variant="default"
                      aria-label={`Cut it now, the vent at place ${i + 1}`}
                      onClick={() => set((now) => ({ vents: [...now.vents, r.vent] }))}
                    >
                      cut it now
                    </Button>
                  </li>
                ),
            )}
          </ul>
        </>
      )}
    </div>
  )
}

type Vent = Design['vents'][number]

const same = (a: Vent, b: Vent) => a.at.every((x, k) => Math.abs(x - b.at[k]) < 1e-3)
