import type { InstrumentLine } from '../api/client'
import { useSearch } from '../parts/useSearch'
import { useShop } from '../parts/useShop'

/** What the shop's thermometer shows, where there is one that is heard. */
export function useAir(): { celsius: number; humidity: number } | null {
  const which = (useShop()?.practice.instruments ?? []).findIndex((x) => x.kind === 'air')
  const { found } = useSearch<InstrumentLine>(which < 0 ? null : `/api/instruments/${which}/live`)
  if (!found || found.value === undefined || found.trouble) return null
  return { celsius: Math.round(found.value * 10) / 10, humidity: found.second ?? 0 }
}
