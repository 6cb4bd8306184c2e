import { Button, MantineProvider, Modal, useComputedColorScheme, useMantineColorScheme } from '@mantine/core'
import { useDisclosure, useHotkeys } from '@mantine/hooks'
import { Notifications } from '@mantine/notifications'
import { Spotlight, spotlight } from '@mantine/spotlight'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { useState } from 'react'
import { BrowserRouter, Link, NavLink, Route, Routes, useLocation, useMatch, useNavigate } from 'react-router'
import { api, asProblem } from './api/client'
import { Away, useServer, WaitingButton } from './kept/Waiting'
import classes from './App.module.css'
import { day } from './parts/day'
import { Shelter } from './parts/Shelter'
import { UnitsProvider, useShopUnits } from './parts/useShop'
import { JobsPlace } from './places/JobsPlace'
import { PracticePlace } from './places/PracticePlace'
import { RackPlace } from './places/RackPlace'
import { StockPlace } from './places/StockPlace'
import { JobPage } from './stages/JobPage'
import { stageName, stages } from './stages/stages'
import { resolver, theme } from './theme/theme'

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

const places = [
  { to: '/', name: 'Jobs' },
  { to: '/rack', name: 'Rack' },
  { to: '/stock', name: 'Stock' },
  { to: '/practice', name: 'House practice' },
]

export function App() {
  return (
    <MantineProvider theme={theme} cssVariablesResolver={resolver} defaultColorScheme="auto">
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <Notifications position="bottom-left" limit={3} />
          <Shell />
        </BrowserRouter>
      </QueryClientProvider>
    </MantineProvider>
  )
}

function Shell() {
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
  useHotkeys([
    ['shift+?', open],
    ['?', open],
  ])
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
        <Button variant="subtle" size="compact-sm" onClick={open} aria-label="Keyboard shortcuts">
          ?
        </Button>
      </header>
      <Away />
      <div className={classes.body} id="work" tabIndex={-1}>
        <Shelter what="This view" resetKeys={[pathname]}>
          <Routes>
            <Route path="/" element={<JobsPlace />} />
            <Route path="/jobs/:jobId" element={<JobPage />} />
            <Route path="/jobs/:jobId/:stage" element={<JobPage />} />
            <Route path="/rack" element={<RackPlace />} />
            <Route path="/stock" element={<StockPlace />} />
            <Route path="/practice" element={<PracticePlace />} />
            <Route path="*" element={<Lost />} />
          </Routes>
        </Shelter>
      </div>
      <Palette />
      <Shortcuts opened={help} close={close} />
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

/** Goes anywhere by typing. */
function Palette() {
  const navigate = useNavigate()
  const jobs = api.useQuery('get', '/jobs').data ?? []
  const [asked, setAsked] = useState(false) // what is only looked for is not fetched before
  const moulds = api.useQuery('get', '/moulds', {}, { enabled: asked }).data ?? []
  const materials = api.useQuery('get', '/materials', {}, { enabled: asked }).data ?? []
  const match = useMatch('/jobs/:jobId/*')
  const here = match?.params.jobId
  const actions = [
    ...(here
      ? stages.map((s) => ({
          id: `here-${s}`,
          label: stageName[s],
          description: 'stage of this job',
          onClick: () => void navigate(`/jobs/${here}/${s}`),
        }))
      : []),
    ...jobs.map((j) => ({
      id: j.id,
      label: j.order.name,
      description: j.next.what,
      onClick: () => void navigate(`/jobs/${j.id}/${j.next.stage}`),
    })),
    ...moulds.map((m) => ({
      id: m.id,
      label: `Mould ${m.number}`,
      description: `${m.jobName}, ${m.retired ? 'retired' : 'in use'}`,
      onClick: () => void navigate(`/jobs/${m.jobId}/pulls`),
    })),
    ...materials.map((m) => ({
      id: m.id,
      label: m.name,
      description: `${m.kind} in stock`,
      onClick: () => void navigate(`/stock?material=${m.id}`),
    })),
    ...places.map((p) => ({ id: p.to, label: p.name, description: 'place', onClick: () => void navigate(p.to) })),
  ]
  return (
    <Spotlight
      actions={actions}
      shortcut={['mod + K']}
      nothingFound="Nothing by that name"
      limit={12}
      onSpotlightOpen={() => setAsked(true)}
      highlightQuery
      attributes={{ content: { 'aria-label': 'Find' } }}
      searchProps={{ placeholder: 'Job, stage, mould, material or place…', 'aria-label': 'Find' }}
    />
  )
}

const keys: [string, string][] = [
  ['Ctrl+K', 'find a job, stage, mould, material or place'],
  ['Alt+1 … Alt+7', 'stages, from Order to Pulls'],
  ['[ and ]', 'level down and up; with Shift by ten'],
  ['← and →', 'in the section: move the plane; with Shift by ten'],
  ['t', 'in the section: turn the plane'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo and redo in the design'],
  ['?', 'this list'],
]

function Shortcuts({ opened, close }: { opened: boolean; close: () => void }) {
  return (
    <Modal opened={opened} onClose={close} title="Keyboard">
      <dl className={classes.keys}>
        {keys.map(([k, what]) => (
          <div key={k}>
            <dt>{k}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </Modal>
  )
}
