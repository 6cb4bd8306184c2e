import { createContext, useContext, useMemo } from 'react'
import { api } from '../api/client'
import type { Units } from './units'

/** The shop and its house practice; units are metric until it is known. */
export function useShop() {
  const { data } = api.useQuery('get', '/shop', {}, { staleTime: 60_000 })
  return data
}

/** The degrees that the shop reads off its thermometer. */
export function useTemperature(): string {
  const practice = useShop()?.practice
  return practice?.each?.temperature ?? (practice?.units === 'us' ? '°F' : '°C')
}

const Measured = createContext<Units>('metric')

/** Tells every measure below it what the shop measures in. */
export const UnitsProvider = Measured.Provider

/** What the shop measures in, each kind by itself. */
export const useSystem = () => useContext(Measured)

/** What the shop measures in, from its house practice. */
export function useShopUnits(): Units {
  const practice = useShop()?.practice
  const { units, each, decimalComma: comma } = practice ?? { units: 'metric' as const, each: undefined, decimalComma: false }
  return useMemo(() => {
    const of = (kind: string) => (each?.[kind] as 'metric' | 'us' | undefined) ?? units
    return { length: of('length'), volume: of('volume'), mass: of('mass'), comma }
  }, [units, each, comma])
}
