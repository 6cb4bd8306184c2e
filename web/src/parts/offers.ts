import { useEffect, useSyncExternalStore } from 'react'

/** Something that can be found by typing and done at once. */
export interface Offer {
  id: string
  label: string
  description: string
  does: () => void
}

const given = new Map<symbol, Offer[]>()
const watchers = new Set<() => void>()
let all: Offer[] = []

function changed() {
  all = [...given.values()].flat()
  watchers.forEach((w) => w())
}

/** Puts what a view can do within reach of the palette while the view is there. */
export function useOffers(offers: Offer[]) {
  useEffect(() => {
    const mine = Symbol('offers')
    given.set(mine, offers)
    changed()
    return () => {
      given.delete(mine)
      changed()
    }
  }, [offers])
}

/** All that the views on the page can do. */
export const useOffered = () =>
  useSyncExternalStore(
    (told) => {
      watchers.add(told)
      return () => watchers.delete(told)
    },
    () => all,
  )
