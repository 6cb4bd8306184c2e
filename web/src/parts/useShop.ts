import { api, type Practice } from '../api/client'

/** The shop and its house practice; units are metric until it is known. */
export function useShop() {
  const { data } = api.useQuery('get', '/shop', {}, { staleTime: 60_000 })
  return data
}

export function useSystem(): Practice['units'] {
  return useShop()?.practice.units ?? 'metric'
}
