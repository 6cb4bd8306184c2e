import { expect, test } from 'vitest'
import type { Mould } from '../api/client'
import { asText } from './PaperGrid'

const mould = (number: string, cavities: number) => ({ number, cavities }) as Mould

test('pulls from paper become the cells of a spreadsheet', () => {
  const rows = [
    { day: '2026-03-04', mould: 'FL-1', a: '44', b: '39', cells: ['', '5'] },
    { day: '2026-03-04', mould: 'FL-2', a: '', b: '', cells: ['my own words', '9'] },
  ]
  expect(asText(rows, [mould('FL-1', 2), mould('FL-2', 1)]).split('\n')).toEqual([
    'Day\tMould\tA, g\tB, g\tCavity\tCasting\tDefect',
    '2026-03-04\tFL-1\t44\t39\t1\tgood\t',
    '2026-03-04\tFL-1\t44\t39\t2\tscrap\tshort fill',
    '2026-03-04\tFL-2\t\t\t1\tscrap\tmy own words',
  ])
})
