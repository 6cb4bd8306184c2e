import { Button, Modal } from '@mantine/core'
import { useDisclosure } from '@mantine/hooks'
import { useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { client, Problem } from '../api/client'
import { moment } from '../parts/day'
import { say, sayProblem } from '../parts/Say'
import { hear, outbox } from './changes'
import { cupboard } from './cupboard'
import { reach } from './reach'
import { settle } from '../stages/openDesign'
import { useAway, useNewer, useWaiting } from './useWaiting'
import classes from './Waiting.module.css'

const askMs = 2000

/** Sends what an earlier page left, asks for the server while it is away, and looks anew once it is back. */
export function useServer() {
  const queries = useQueryClient()
  const away = useAway()
  useEffect(() => void outbox.open(), [])
  useEffect(
    () =>
      hear('sent', (c) => {
        say('Sent now', c.what)
        void queries.invalidateQueries()
      }),
    [queries],
  )
  useEffect(
    () =>
      hear('refused', (c) => {
        sayProblem(
          new Problem(`${c.what}: ${c.refused!.title}`, `${c.refused!.detail} It is kept among the changes that wait.`, c.refused!.status),
        )
        void queries.invalidateQueries()
      }),
    [queries],
  )
  useEffect(() => {
    if (!away) return
    const timer = setInterval(() => void client.GET('/shop').catch(() => undefined), askMs)
    return () => {
      clearInterval(timer)
      void outbox.flush()
      void queries.invalidateQueries()
    }
  }, [away, queries])
}

/** The server does not answer: what is shown, and what becomes of changes. */
export function Away() {
  const away = useAway()
  const waiting = useWaiting()
  const newer = useNewer()
  if (!away && newer) {
    return (
      <div role="status" className={classes.away}>
        <strong>The server is newer than this page.</strong> What you changed and typed is kept.{' '}
        <Button size="compact-sm" onClick={() => void settle().finally(() => window.location.reload())}>
          Reload the page
        </Button>
      </div>
    )
  }
  if (!away) return null
  return (
    <div role="status" className={classes.away}>
      <strong>The server does not answer.</strong> What you see was last known at {clock(reach.heard)}.{' '}
      {cupboard.lasting
        ? 'Changes are kept in this browser and sent as soon as it answers.'
        : 'This browser keeps nothing for later: leave this page open, changes are sent as soon as it answers.'}
      {waiting.length > 0 && ` ${waiting.length === 1 ? '1 change waits.' : `${waiting.length} changes wait.`}`}
    </div>
  )
}

const clock = (t: Date) => t.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })

/** How many changes wait, and what each of them is. */
export function WaitingButton() {
  const waiting = useWaiting()
  const [opened, { open, close }] = useDisclosure()
  const refused = waiting.filter((w) => w.refused).length
  if (waiting.length === 0 && !opened) return null
  return (
    <>
      <Button size="compact-sm" variant="default" onClick={open} className={refused ? classes.refused : undefined}>
        {refused ? '◆ ' : ''}
        {waiting.length === 1 ? '1 change waits' : `${waiting.length} changes wait`}
      </Button>
      <Modal opened={opened} onClose={close} title="Changes that wait" size="lg">
        {waiting.length === 0 && <p>Everything was sent.</p>}
        {waiting.length > 0 && <p className="soft">They are sent one after the other, in this order, and each of them once.</p>}
        <ul className={classes.list}>
          {waiting.map((w) => (
            <li key={w.key}>
              <span>
                <strong>{w.what}</strong> <span className="soft">{moment(new Date(w.made))}</span>
                {w.refused ? (
                  <p role="alert" className={classes.why}>
                    ◆ {w.refused.title}. {w.refused.detail}
                  </p>
                ) : (
                  <p className="soft">waits for the server</p>
                )}
              </span>
              {w.refused && (
                <span className={classes.ways}>
                  <Button size="xs" onClick={() => void outbox.again(w.key)}>
                    Send it again
                  </Button>
                  <Button size="xs" variant="default" onClick={() => void outbox.discard(w.key)}>
                    Give it up
                  </Button>
                </span>
              )}
            </li>
          ))}
        </ul>
        {waiting.some((w) => !w.refused) && (
          <Button variant="default" onClick={() => void outbox.flush()}>
            Try now
          </Button>
        )}
      </Modal>
    </>
  )
}
