import { SegmentedControl } from '@mantine/core'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { asProblem, client, type Material } from '../api/client'
import { MeasureInput } from '../parts/MeasureInput'
import { Num } from '../parts/Num'
import { Row } from '../parts/Row'
import { FromScale } from './FromScale'
import classes from './plain.module.css'

/** At the scale: so much is in the cup, how much goes with it? */
export function Weighed({ material, needed, what }: { material: Material; needed: number; what: string }) {
  const [part, setPart] = useState<'a' | 'b'>('a')
  const [grams, setGrams] = useState<number | null>(null)
  const [open, setOpen] = useState(false)
  const answer = useQuery({
    queryKey: ['weighed', material.id, material.version, part, grams, needed],
    enabled: grams !== null,
    placeholderData: keepPreviousData,
    queryFn: async ({ signal }) => {
      const { data } = await client.POST('/materials/{materialId}/weighed', {
        params: { path: { materialId: material.id } },
        body: { grams: grams!, part, needed },
        signal,
      })
      return data!
    },
  })
  if (material.partsB === 0) return null
  const { batch, over } = (grams !== null && answer.data) || {}
  return (
    <details className={classes.weighed} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>What is in the cup decides: weigh, and ask</summary>
      <div className={classes.form}>
        <SegmentedControl
          size="xs"
          aria-label={`Part in the cup, ${what}`}
          value={part}
          onChange={(v) => setPart(v as 'a' | 'b')}
          data={[
            { value: 'a', label: 'part A is in' },
            { value: 'b', label: 'part B is in' },
          ]}
        />
        <MeasureInput compact label={`In the cup, ${what}`} kind="mass" value={grams} onChange={setGrams} allowEmpty />
      </div>
      {open && <FromScale what={what} onTake={setGrams} />}
      {answer.error && grams !== null && <p role="alert">{asProblem(answer.error).detail}</p>}
      {batch && (
        <div role="status">
          <Row label={<strong>{part === 'a' ? 'Weigh in of part B' : 'Weigh in of part A'}</strong>}>
            <Num label={part === 'a' ? 'Part B for it' : 'Part A for it'} number={part === 'a' ? batch.b : batch.a} />
          </Row>
          <Row label="In all">
            <Num label="In all" number={batch.mass} />
          </Row>
          {over && (
            <Row label={over.value < 0 ? 'Short of what it takes' : 'More than it takes'}>
              <Num label="Against what it takes" number={over} />
            </Row>
          )}
          <p className="soft">Tare the cup with its stick. Never average an overshot: the other part follows what is in the cup.</p>
        </div>
      )}
    </details>
  )
}
