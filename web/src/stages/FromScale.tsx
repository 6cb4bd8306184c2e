import { Button } from '@mantine/core'
import type { InstrumentLine } from '../api/client'
import { Qty } from '../parts/Num'
import { useSearch } from '../parts/useSearch'
import { useShop } from '../parts/useShop'

/** What the shop's scale shows, to be taken once it stands still; typing it in is always possible. */
export function FromScale({ what, onTake }: { what: string; onTake: (grams: number) => void }) {
  const which = (useShop()?.practice.instruments ?? []).findIndex((x) => x.kind === 'scale')
  const { found } = useSearch<InstrumentLine>(which < 0 ? null : `/api/instruments/${which}/live`)
  if (which < 0 || !found) return null
  const { settled, value, trouble } = found
  return (
    <p>
      {trouble ? (
        <span role="status">▲ {trouble}</span>
      ) : (
        <>
          The scale shows {value === undefined ? '–' : <Qty value={value} kind="mass" />}{' '}
          <Button
            size="compact-xs"
            variant="default"
            disabled={settled === undefined}
            aria-label={`Take it from the scale, ${what}`}
            onClick={() => settled !== undefined && onTake(settled)}
          >
            {settled === undefined ? 'it moves' : 'take it'}
          </Button>
        </>
      )}
    </p>
  )
}
