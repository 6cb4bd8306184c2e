import { useComputedColorScheme } from '@mantine/core'
import { useMemo } from 'react'

const names = [
  'paper',
  'sheet',
  'ink',
  'soft',
  'line',
  'rubber',
  'rubber-b',
  'hatch',
  'resin-1',
  'resin-2',
  'resin-3',
  'resin-4',
  'level',
  'master',
  'metal',
  'air',
  'watch',
  'ok',
] as const

export type Tokens = Record<(typeof names)[number], string>

/** The chart's colours as values, for drawings that cannot use CSS. */
export function useTokens(): Tokens {
  const scheme = useComputedColorScheme('light')
  return useMemo(() => {
    const root = document.documentElement
    const shown = root.getAttribute('data-mantine-color-scheme')
    root.setAttribute('data-mantine-color-scheme', scheme) // the attribute may lag by a render
    const style = getComputedStyle(root)
    const tokens = Object.fromEntries(names.map((n) => [n, style.getPropertyValue(`--${n}`).trim()])) as Tokens
    if (shown) root.setAttribute('data-mantine-color-scheme', shown)
    return tokens
  }, [scheme])
}
