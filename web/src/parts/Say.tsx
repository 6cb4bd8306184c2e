import { notifications } from '@mantine/notifications'
import { asProblem } from '../api/client'

/** Tells what went wrong, in the server's words. */
export function sayProblem(thrown: unknown) {
  const p = asProblem(thrown)
  notifications.show({ title: p.title, message: p.detail, color: 'var(--stop)', autoClose: 9000 })
}

export function say(title: string, message = '') {
  notifications.show({ title, message, color: 'var(--ok)', autoClose: 4000 })
}
