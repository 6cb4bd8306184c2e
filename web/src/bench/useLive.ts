import { useCallback, useEffect, useRef, useState } from 'react'
import { client, asProblem, type Problem, type Session, type SessionEvent, type ScaleShows, type InstrumentLine } from '../api/client'
import { whole } from '../api/numbers'

/** A session as it stands, with what its scale and its gauge show, and how to say what happened. */
export interface Live {
  session: Session | null
  scale: ScaleShows | null
  gauge: InstrumentLine | null
  /** The line to the server is gone; what was said last is sent again until it is kept. */
  away: boolean
  refused: Problem | null
  /** What is asked about before it is kept. */
  asked: { event: SessionEvent; says: string } | null
  busy: boolean
  tell: (event: SessionEvent) => Promise<void>
  forget: () => void
  /** s since 1970 by the server's clock. */
  now: () => number
}

/** ms until what did not arrive is sent again. */
const again = 1000

/** Follows a session live: on a second device too, and after the line was gone. */
export function useLive(id: string): Live {
  const [session, setSession] = useState<Session | null>(null)
  const [scale, setScale] = useState<ScaleShows | null>(null)
  const [gauge, setGauge] = useState<InstrumentLine | null>(null)
  const [away, setAway] = useState(false)
  const [refused, setRefused] = useState<Problem | null>(null)
  const [asked, setAsked] = useState<Live['asked']>(null)
  const [sending, setSending] = useState<string | undefined>() // the step that is on its way
  const ahead = useRef(0) // s by which the server's clock is ahead of this machine's
  const gone = useRef(false)

  const take = useCallback((next: Session) => {
    ahead.current = next.now - Date.now() / 1000
    setSession((was) => (was && was.version > next.version ? was : next))
    setAway(false)
  }, [])

  useEffect(() => {
    gone.current = false
    let source: EventSource | null = null
    let timer = 0
    const open = () => {
      source = new EventSource(`/api/sessions/${id}/live`)
      source.addEventListener('session', (e: MessageEvent<string>) => take(whole(JSON.parse(e.data) as unknown) as Session))
      source.addEventListener('scale', (e: MessageEvent<string>) => setScale(JSON.parse(e.data) as ScaleShows))
      source.addEventListener('gauge', (e: MessageEvent<string>) => setGauge(JSON.parse(e.data) as InstrumentLine))
      source.onerror = () => {
        source?.close()
        setAway(true)
        timer = window.setTimeout(open, again)
      }
    }
    open()
    // who comes back from a sleep wants to know at once
    const wake = () => {
      if (document.visibilityState !== 'visible') return
      window.clearTimeout(timer)
      source?.close()
      open()
    }
    document.addEventListener('visibilitychange', wake)
    // a page that the browser puts by to go back to keeps no line: it has few of them
    const leave = () => {
      window.clearTimeout(timer)
      source?.close()
    }
    const back = (e: PageTransitionEvent) => e.persisted && wake()
    window.addEventListener('pagehide', leave)
    window.addEventListener('pageshow', back)
    return () => {
      window.removeEventListener('pagehide', leave)
      window.removeEventListener('pageshow', back)
      gone.current = true
      document.removeEventListener('visibilitychange', wake)
      window.clearTimeout(timer)
      source?.close()
    }
  }, [id, take])

  useEffect(() => {
    let here = true
    client
      .GET('/sessions/{sessionId}', { params: { path: { sessionId: id } } })
      .then(({ data }) => here && data && take(data))
      .catch((thrown: unknown) => here && setRefused(asProblem(thrown)))
    return () => {
      here = false
    }
  }, [id, take])

  const tell = useCallback(
    async (event: SessionEvent) => {
      setSending(event.step)
      setRefused(null)
      setAsked(null)
      const key = crypto.randomUUID()
      const who = localStorage.getItem('bathyform who') ?? undefined
      for (;;) {
        try {
          const { data } = await client.POST('/sessions/{sessionId}/events', {
            params: { path: { sessionId: id }, header: { 'Idempotency-Key': key } },
            body: { ...event, who },
          })
          if (data) take(data)
          break
        } catch (thrown) {
          const problem = asProblem(thrown)
          if (problem.status === 0 || problem.status >= 500) {
            setAway(true)
            await new Promise((r) => setTimeout(r, again))
            if (gone.current) return
            continue
          }
          if (problem.meant) setAsked({ event: { ...event, meant: true }, says: problem.detail })
          else setRefused(problem)
          break
        }
      }
      setSending((now) => (now === event.step ? undefined : now))
    },
    [id, take],
  )

  const now = useCallback(() => Date.now() / 1000 + ahead.current, [])
  const forget = useCallback(() => {
    setAsked(null)
    setRefused(null)
  }, [])
  const busy = sending !== undefined && session?.steps[session.at]?.key === sending
  return { session, scale, gauge, away, refused, asked, busy, tell, forget, now }
}
