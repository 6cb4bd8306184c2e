import { createContext, useContext, useMemo } from 'react'
import { api } from '../api/client'
import { pressures, warmth, type Units } from './units'

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

/** What the shop reads off its gauges. */
export function usePressure(): string {
  const practice = useShop()?.practice
  return practice?.each?.pressure ?? (practice?.units === 'us' ? 'psi' : 'kPa')
}

/** Says temperatures and pressures as the shop reads them. */
export function useReadings() {
  const [degrees, unit] = [useTemperature(), usePressure()]
  return {
    warmth: (celsius: number) => `${Number(warmth.shown(celsius, degrees).toFixed(1))} ${degrees}`,
    pressure: (kPa: number) => `${Number((kPa * pressures[unit]).toPrecision(3))} ${unit}`,
  }
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
