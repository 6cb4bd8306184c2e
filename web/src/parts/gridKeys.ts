import type { KeyboardEvent } from 'react'

/**
 * Arrow keys in a table of entries: up and down to the same thing of another
 * row, left and right along a row, Home and End to the first and the last.
 */
export function gridKeys(e: KeyboardEvent<HTMLTableElement>) {
  const at = e.target as HTMLElement
  const row = at.closest('tr')
  if (!row || !at.matches('a, button')) return
  const of = (r: Element) => [...r.querySelectorAll<HTMLElement>('a, button')]
  const rows = [...e.currentTarget.querySelectorAll('tbody tr')].filter((r) => of(r).length > 0)
  const [y, x] = [rows.indexOf(row), of(row).indexOf(at)]
  const to = {
    ArrowUp: [y - 1, x],
    ArrowDown: [y + 1, x],
    ArrowLeft: [y, x - 1],
    ArrowRight: [y, x + 1],
    Home: [0, x],
    End: [rows.length - 1, x],
  }[e.key]
  if (!to || y < 0) return
  e.preventDefault()
  const there = rows[to[0]] && of(rows[to[0]])
  there?.[Math.min(Math.max(to[1], 0), there.length - 1)]?.focus()
}
