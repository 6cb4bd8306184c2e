import { client, type Session } from '../api/client'

/** Says a line to a stand-in of the session; one that is away is seen to be. */
export async function say(session: Session, instrument: 'scale' | 'pot', line: string) {
  await client
    .POST('/sessions/{sessionId}/say', { params: { path: { sessionId: session.id } }, body: { instrument, line } })
    .catch(() => undefined)
}
