import { useSyncExternalStore } from 'react'
import { outbox } from './changes'
import { reach } from './reach'

/** Changes that wait for the server, or for a person. */
export const useWaiting = () => useSyncExternalStore(outbox.watch, () => outbox.list)

/** Whether the server hands out another page by now. */
export const useNewer = () => useSyncExternalStore(reach.watch, () => reach.newer)

/** Since when the server does not answer; null while it does. */
export const useAway = () => useSyncExternalStore(reach.watch, () => reach.away)
