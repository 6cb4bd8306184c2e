import { lazy, Suspense, useEffect } from 'react'
import { Button, MantineProvider, useComputedColorScheme, useMantineColorScheme } from '@mantine/core'
import { useDisclosure, useHotkeys } from '@mantine/hooks'
import { Notifications } from '@mantine/notifications'
import { spotlight } from '@mantine/spotlight'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { BrowserRouter, Link, NavLink, Route, Routes, useLocation, useMatch } from 'react-router'
import { api, asProblem } from './api/client'
import { Away, useServer, WaitingButton } from './kept/Waiting'
import classes from './App.module.css'
import { day } from './parts/day'
import { keepFocus } from './parts/keepFocus'
import { Shelter } from './parts/Shelter'
import { UnitsProvider, useShopUnits } from './parts/useShop'
import { useKeys } from './parts/useKeys'
import { DropAnywhere } from './places/DropAnywhere'
import { JobsPlace } from './places/JobsPlace'
import { Palette } from './places/Palette'
import { places } from './places/places'
import { Tour } from './places/Tour'
import { JobPage } from './stages/JobPage'
import { resolver, theme } from './theme/theme'

// what is not on the first page comes when it is wanted
const RackPlace = lazy(() => import('./places/RackPlace').then((m) => ({ default: m.RackPlace })))
const BenchPlace = lazy(() => import('./places/BenchPlace').then((m) => ({ default: m.BenchPlace })))
const SessionPage = lazy(() => import('./bench/SessionPage').then((m) => ({ default: m.SessionPage })))
const MouldPlace = lazy(() => import('./places/MouldPlace').then((m) => ({ default: m.MouldPlace })))
const StockPlace = lazy(() => import('./places/StockPlace').then((m) => ({ default: m.StockPlace })))
const LearntPlace = lazy(() => import('./places/LearntPlace').then((m) => ({ default: m.LearntPlace })))
const ForecastsPlace = lazy(() => import('./places/ForecastsPlace').then((m) => ({ default: m.ForecastsPlace })))
const PracticePlace = lazy(() => import('./places/PracticePlace').then((m) => ({ default: m.PracticePlace })))
const Help = lazy(() => import('./places/Help').then((m) => ({ default: m.Help })))

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      networkMode: 'always', // the server is on this machine, whatever becomes of the net
      // a lost connection is tried again; an answer that says no is not
      retry: (count, thrown) => asProblem(thrown).status === 0 && count < 4,
    },
  },
})

export function App() {
  return (
    <MantineProvider theme={theme} cssVariablesResolver={resolver} defaultColorScheme="auto">
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <Notifications position="bottom-left" limit={3} className={classes.said} />
          <Shell />
        </BrowserRouter>
      </QueryClientProvider>
    </MantineProvider>
  )
}

function Shell() {
  useEffect(keepFocus, [])
  const units = useShopUnits()
  return (
    <UnitsProvider value={units}>
      <Frame />
    </UnitsProvider>
  )
}

function Frame() {
  const [help, { open, close }] = useDisclosure()
  const { pathname } = useLocation()
  useServer()
  useKeys([
    ['shift+?', open],
    ['?', open],
  ])
  useHotkeys([['mod+/', open]], [], true) // out of a text as well
  return (
    <div className={classes.shell}>
      <a href="#work" className={classes.skip}>
        Skip to the work
      </a>
      <header className={classes.head}>
        <Link to="/" className={classes.name}>
          Bathyform
        </Link>
        <nav aria-label="Places">
          {places.map((p) => (
            <NavLink key={p.to} to={p.to} end={p.to === '/'} className={classes.place}>
              {p.name}
            </NavLink>
          ))}
        </nav>
        <JobInHand />
        <WaitingButton />
        <Button variant="subtle" size="compact-sm" onClick={spotlight.open} title="Ctrl+K">
          Find
        </Button>
        <SchemeButton />
        <Button variant="subtle" size="compact-sm" onClick={open} aria-label="Keyboard and words">
          ?
        </Button>
      </header>
      <Away />
      <div className={classes.body} id="work" tabIndex={-1}>
        <Shelter what="This view" resetKeys={[pathname]}>
          <Suspense
            fallback={
              <main className={classes.lost}>
                <h1>One moment…</h1>
              </main>
            }
          >
            <Routes>
              <Route path="/" element={<JobsPlace />} />
              <Route path="/jobs/:jobId" element={<JobPage />} />
              <Route path="/jobs/:jobId/:stage" element={<JobPage />} />
              <Route path="/bench" element={<BenchPlace />} />
              <Route path="/bench/:sessionId" element={<SessionPage />} />
              <Route path="/rack" element={<RackPlace />} />
              <Route path="/rack/:mouldId" element={<MouldPlace />} />
              <Route path="/stock" element={<StockPlace />} />
              <Route path="/practice" element={<PracticePlace />} />
              <Route path="/learnt" element={<LearntPlace />} />
              <Route path="/forecasts" element={<ForecastsPlace />} />
              <Route path="*" element={<Lost />} />
            </Routes>
          </Suspense>
        </Shelter>
      </div>
      <Palette />
      {help && (
        <Suspense fallback={null}>
          <Help opened close={close} />
        </Suspense>
      )}
      <Tour />
      <DropAnywhere />
    </div>
  )
}

function Lost() {
  return (
    <main className={classes.lost}>
      <h1>Nothing is charted here</h1>
      <p>The address does not lead anywhere.</p>
      <Button component={Link} to="/">
        To the jobs
      </Button>
    </main>
  )
}

/** Which job is open, how far it is, and by when it is wanted. */
function JobInHand() {
  const match = useMatch('/jobs/:jobId/*')
  const jobId = match?.params.jobId ?? ''
  const job = api.useQuery('get', '/jobs/{jobId}', { params: { path: { jobId } } }, { enabled: jobId !== '' }).data
  if (!job || !jobId) return <span className={classes.job} />
  return (
    <span className={classes.job}>
      {job.order.name} · <span className="num">{job.good}</span> of <span className="num">{job.order.quantity}</span>
      {job.order.due && <> · due {day(job.order.due)}</>}
    </span>
  )
}

function SchemeButton() {
  const { setColorScheme } = useMantineColorScheme()
  const scheme = useComputedColorScheme('light')
  return (
    <Button variant="subtle" size="compact-sm" onClick={() => setColorScheme(scheme === 'dark' ? 'light' : 'dark')}>
      {scheme === 'dark' ? 'Day' : 'Night'}
    </Button>
  )
}
