import { Button } from '@mantine/core'
import { Fragment, useEffect, useRef, type KeyboardEvent } from 'react'
import type { Mould } from '../api/client'
import { today } from '../parts/day'
import { Left } from '../parts/Refused'
import { useKept } from '../parts/useKept'
import { defects } from '../stages/pulls/entries'
import classes from './places.module.css'

interface Row {
  day: string
  mould: string
  a: string
  b: string
  /** Of each cavity: empty for a good casting, a defect's number, or its name. */
  cells: string[]
}

/** Pulls from a sheet of paper, kept until they are taken; by the keyboard alone: Tab to the next cell, Enter to the next pull. */
export function PaperGrid({ moulds, look, taken }: { moulds: Mould[]; look: (text: string) => void; taken: boolean }) {
  const cavities = Math.max(1, ...moulds.map((m) => m.cavities))
  const fresh = (last?: Row): Row => ({
    day: last?.day ?? today(),
    mould: last?.mould ?? moulds[0]?.number ?? '',
    a: '',
    b: '',
    cells: Array.from({ length: cavities }, () => ''),
  })
  const kept = useKept('pulls from paper', { rows: [fresh()] })
  const { rows } = kept.value
  const { clear } = kept
  useEffect(() => {
    if (taken) clear()
  }, [taken, clear])
  const table = useRef<HTMLTableElement>(null)
  const put = (i: number, part: Partial<Row>) => kept.put((now) => ({ rows: now.rows.map((r, k) => (k === i ? { ...r, ...part } : r)) }))

  /** Enter begins the next pull; the arrows go up and down in a column. */
  function onKey(e: KeyboardEvent<HTMLInputElement>, row: number, column: number) {
    if (e.key !== 'Enter' && e.key !== 'ArrowDown' && e.key !== 'ArrowUp') return
    e.preventDefault()
    const to = e.key === 'ArrowUp' ? row - 1 : row + 1
    if (e.key === 'Enter' && to === rows.length) kept.put({ rows: [...rows, fresh(rows[row])] })
    const at = e.key === 'Enter' ? 2 : column // the weights come first
    window.setTimeout(() => table.current?.querySelector<HTMLInputElement>(`[data-cell="${to} ${at}"]`)?.focus())
  }

  const cell = (i: number, k: number, label: string, value: string, change: (v: string) => void) => (
    <td>
      <input
        className={classes.cell}
        data-cell={`${i} ${k}`}
        aria-label={`${label} of pull ${i + 1}`}
        value={value}
        onChange={(e) => change(e.currentTarget.value)}
        onKeyDown={(e) => onKey(e, i, k)}
      />
    </td>
  )
  return (
    <>
      <p className={classes.why}>
        Of a cavity leave it empty for good, else the number of the defect or its name: {defects.map((d, i) => `${i + 1} ${d}`).join(', ')}.
        Enter begins the next pull.
      </p>
      <div className={classes.scroll}>
        <table className={classes.table} ref={table}>
          <thead>
            <tr>
              <th>Day</th>
              <th>Mould</th>
              <th>A, g</th>
              <th>B, g</th>
              {Array.from({ length: cavities }, (_, k) => (
                <th key={k}>Cavity {k + 1}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((r, i) => (
              <tr key={i}>
                {cell(i, 0, 'Day', r.day, (day) => put(i, { day }))}
                {cell(i, 1, 'Mould', r.mould, (mould) => put(i, { mould }))}
                {cell(i, 2, 'A', r.a, (a) => put(i, { a }))}
                {cell(i, 3, 'B', r.b, (b) => put(i, { b }))}
                {r.cells.map((c, k) => (
                  <Fragment key={k}>
                    {k < (moulds.find((m) => m.number === r.mould)?.cavities ?? cavities) ? (
                      cell(i, 4 + k, `Cavity ${k + 1}`, c, (v) => put(i, { cells: r.cells.map((x, n) => (n === k ? v : x)) }))
                    ) : (
                      <td />
                    )}
                  </Fragment>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Button variant="default" mt="xs" onClick={() => look(asText(rows, moulds))}>
        Look at these pulls
      </Button>
      <Left left={kept.left} clear={clear} />
    </>
  )
}

/** The pulls as the cells of a spreadsheet. */
export function asText(rows: Row[], moulds: readonly Mould[]): string {
  const lines = ['Day\tMould\tA, g\tB, g\tCavity\tCasting\tDefect']
  rows.forEach((r) => {
    const cavities = moulds.find((m) => m.number === r.mould)?.cavities ?? 1
    r.cells.slice(0, cavities).forEach((c, k) => {
      const defect = defects[Number(c) - 1] ?? c.trim()
      lines.push([r.day, r.mould, r.a, r.b, k + 1, defect === '' ? 'good' : 'scrap', defect].join('\t'))
    })
  })
  return lines.join('\n')
}
