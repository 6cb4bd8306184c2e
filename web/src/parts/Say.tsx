import { notifications } from '@mantine/notifications'
import { asProblem } from '../api/client'
import type { Outcome } from '../kept/outbox'

/** Tells what went wrong, in the server's words. */
export function sayProblem(thrown: unknown) {
  const p = asProblem(thrown)
  notifications.show({ title: p.title, message: p.detail, color: 'var(--stop)', autoClose: 9000 })
}

/** Says that a change was made, or that it waits for the server. */
export function sayOutcome(outcome: Outcome, done: string, message = '') {
  if (outcome.sent) say(done, message)
  else
    notifications.show({
      title: 'Kept here for now',
      message: 'It is sent as soon as the server answers.',
      color: 'var(--watch)',
      autoClose: 6000,
    })
}

export function say(title: string, message = '') {
  notifications.show({ title, message, color: 'var(--ok)', autoClose: 4000 })
}
