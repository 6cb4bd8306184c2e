import { useComputedColorScheme, useMantineColorScheme } from '@mantine/core'
import { useDebouncedValue } from '@mantine/hooks'
import { Spotlight } from '@mantine/spotlight'
import { keepPreviousData, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { useMatch, useNavigate } from 'react-router'
import { api, type Job } from '../api/client'
import { changes, make } from '../kept/changes'
import { useOffered } from '../parts/offers'
import { sayOutcome, sayProblem } from '../parts/Say'
import { stageName, stages } from '../stages/stages'
import { places } from './places'

/** What House practice settles, as it is looked for. */
const settings = ['Units of measure', 'Decimal comma', 'Clearances', 'Sprue, well and vents', 'Scale and cups', 'How we do it']

const mostMoulds = 30 // that a word finds

/** Goes anywhere, and does anything, by typing. */
export function Palette() {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const jobs = api.useQuery('get', '/jobs').data ?? []
  const [asked, setAsked] = useState(false) // what is only looked for is not fetched before
  const [typed, setTyped] = useState('')
  const [word] = useDebouncedValue(typed.replace(/^mould\s+/i, '').trim(), 150)
  const wanted = { params: { query: { text: word || undefined, limit: mostMoulds } } }
  const rack = api.useQuery('get', '/moulds', wanted, { enabled: asked, placeholderData: keepPreviousData })
  const moulds = rack.data?.moulds ?? []
  const materials = api.useQuery('get', '/materials', {}, { enabled: asked }).data ?? []
  const match = useMatch('/jobs/:jobId/*')
  const here = match?.params.jobId
  const offered = useOffered()
  const { setColorScheme } = useMantineColorScheme()
  const scheme = useComputedColorScheme('light')
  const actions = [
    ...offered.map((o) => ({ id: o.id, label: o.label, description: o.description, onClick: o.does })),
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
      onClick: () => void navigate(`/rack/${m.id}`),
    })),
    ...materials.map((m) => ({
      id: m.id,
      label: m.name,
      description: `${m.kind} in stock`,
      onClick: () => void navigate(`/stock?material=${m.id}`),
    })),
    ...places.map((p) => ({ id: p.to, label: p.name, description: 'place', onClick: () => void navigate(p.to) })),
    { id: 'forecasts', label: 'How good the forecasts were', description: 'of moulds', onClick: () => void navigate('/forecasts') },
    { id: 'learnt', label: 'What the log teaches', description: 'figures of House practice', onClick: () => void navigate('/learnt') },
    ...settings.map((s) => ({ id: s, label: s, description: 'setting of House practice', onClick: () => void navigate('/practice') })),
    {
      id: 'scheme',
      label: scheme === 'dark' ? 'Day: dark ink on light paper' : 'Night: light ink on dark paper',
      description: 'setting of this browser',
      onClick: () => setColorScheme(scheme === 'dark' ? 'light' : 'dark'),
    },
    { id: 'new-job', label: 'New job', description: 'take an order on', onClick: () => void navigate('/?new') },
    {
      id: 'sample',
      label: 'The sample job afresh',
      description: 'as it was at first, beside whatever there is',
      onClick: () =>
        void make(changes.addSample())
          .then((outcome) => {
            sayOutcome(outcome, 'The sample job is on the list')
            void queries.invalidateQueries({ queryKey: ['get', '/jobs'] })
            if (outcome.sent) void navigate(`/jobs/${(outcome.data as Job).id}/order`)
          })
          .catch(sayProblem),
    },
    { id: 'tour', label: 'The tour', description: 'five steps on the demo job', onClick: () => void navigate('/?tour') },
  ]
  return (
    <Spotlight
      actions={actions}
      shortcut={['mod + K']}
      nothingFound="Nothing by that name"
      limit={12}
      onSpotlightOpen={() => setAsked(true)}
      onQueryChange={setTyped}
      highlightQuery
      attributes={{ content: { 'aria-label': 'Find' } }}
      searchProps={{ placeholder: 'Job, stage, finding, action, setting…', 'aria-label': 'Find' }}
    />
  )
}
