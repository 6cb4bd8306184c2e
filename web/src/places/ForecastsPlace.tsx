import { Select } from '@mantine/core'
import { useDocumentTitle } from '@mantine/hooks'
import { keepPreviousData } from '@tanstack/react-query'
import { Link, useSearchParams } from 'react-router'
import { api, type Forecasts } from '../api/client'
import { ForecastLine } from '../parts/ForecastLine'
import { day } from '../parts/day'
import { Fault } from '../parts/Fault'
import { Pages } from '../parts/List'
import { Num } from '../parts/Num'
import classes from './places.module.css'
import own from './forecasts.module.css'

const page = 50

type Age = Forecasts['ages'][number]

/** How many must be decided before a share says anything. */
const leastTold = 10

const decided = (a: Age) => a.less + a.inside + a.more

/** How good the forecasts of moulds were: each as it stood then, held against what came. */
export function ForecastsPlace() {
  useDocumentTitle('How good the forecasts were · Bathyform')
  const [address, setAddress] = useSearchParams()
  const skip = Math.max(0, Number(address.get('skip')) || 0)
  const rubber = address.get('rubber') ?? undefined
  const query = { params: { query: { rubber, skip, limit: page } } }
  const { data, error, refetch } = api.useQuery('get', '/forecasts', query, { placeholderData: keepPreviousData })
  if (error && !data) return <Fault thrown={error} retry={() => void refetch()} />
  const shown = { rubber: data?.rubber ?? '' }
  return (
    <main className={classes.place}>
      <header className={classes.head}>
        <h1>How good the forecasts were</h1>
        <Link to="/rack">Rack</Link>
      </header>
      <p className={classes.why}>
        What was said of each mould when it was poured, and after every ten pulls, worked out anew from what was known the day before; and
        what came. Eight in ten are to come inside their span. Moulds that live, or went for another reason than wear, count as far as they
        came.
      </p>
      {data && data.rubbers.length === 0 && <p className={classes.empty}>No mould is on the rack yet: there is nothing to be forecast.</p>}
      {data && data.rubbers.length > 0 && (
        <>
          <Select
            label="Rubber"
            data={data.rubbers}
            value={data.rubber}
            onChange={(r) => r && setAddress({ rubber: r })}
            allowDeselect={false}
            w={300}
          />
          <Ages ages={data.ages} />
          {data.total === 0 ? (
            <p className={classes.empty}>Nothing was pulled from its moulds yet.</p>
          ) : (
            <>
              <h2 className={classes.section}>Every forecast, the latest first</h2>
              <ul className={own.list}>
                {data.forecasts.map((c) => (
                  <li key={`${c.mouldId} ${c.at}`}>
                    <p>
                      <span className="num">{day(c.day)}</span>{' '}
                      <Link to={`/rack/${c.mouldId}`}>
                        {c.mould} <span className="soft">{c.job}</span>
                      </Link>{' '}
                      <ForecastLine forecast={c} />
                    </p>
                  </li>
                ))}
              </ul>
              <Pages
                of="the forecasts"
                total={data.total}
                skip={skip}
                page={page}
                newer="Later"
                older="Earlier"
                onSkip={(s) => setAddress({ ...shown, ...(s > 0 && { skip: String(s) }) })}
              />
            </>
          )}
        </>
      )}
    </main>
  )
}

/** By the age at which it was said: what came, and which share of it came inside. */
function Ages({ ages }: { ages: Age[] }) {
  const told = ages.filter((a) => a.less + a.inside + a.more + a.open > 0)
  if (told.length === 0) return null
  return (
    <table className={classes.table}>
      <thead>
        <tr>
          <th>Said</th>
          <th>Wore out sooner</th>
          <th>Inside</th>
          <th>Gave more</th>
          <th>Still open</th>
          <th>Share inside</th>
          <th hidden={!told.some((a) => decided(a) >= leastTold)}>
            <span className={own.scale} aria-hidden>
              <span>0</span>
              <span>80 %</span>
              <span>100</span>
            </span>
          </th>
        </tr>
      </thead>
      <tbody>
        {told.map((a) => (
          <tr key={a.at}>
            <td>{a.at === 0 ? 'when it was new' : `after ${a.at} pulls`}</td>
            <td className="num">{a.less}</td>
            <td className="num">{a.inside}</td>
            <td className="num">{a.more}</td>
            <td className="num">{a.open}</td>
            <td className="num">
              {a.share && decided(a) >= leastTold ? (
                <>
                  <Num number={a.share} label={`Share inside, said ${a.at === 0 ? 'when new' : `after ${a.at} pulls`}`} /> %{' '}
                  <span className="soft">
                    ({Math.round(a.low ?? 0)} to {Math.round(a.high ?? 100)})
                  </span>
                </>
              ) : (
                <span className="soft">{decided(a) === 0 ? 'none is decided' : `of ${decided(a)}: too few to tell`}</span>
              )}
            </td>
            {decided(a) >= leastTold && (
              <td>
                <Share age={a} />
              </td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** The share with its interval, on a scale on which what is to come is marked. */
function Share({ age }: { age: Age }) {
  const { low = 0, high = 100, share } = age
  if (!share) return null
  const told = `${Math.round(share.value)} % inside, surely between ${Math.round(low)} and ${Math.round(high)}; 80 are to come`
  return (
    <svg className={own.share} viewBox="-6 0 212 20" role="img" aria-label={told}>
      <line x1={0} x2={200} y1={10} y2={10} className={own.axis} />
      <line x1={160} x2={160} y1={1} y2={19} className={own.goal} />
      <line x1={2 * low} x2={2 * high} y1={10} y2={10} className={own.interval} />
      <circle cx={2 * share.value} cy={10} r={5} className={own.dot} />
    </svg>
  )
}
