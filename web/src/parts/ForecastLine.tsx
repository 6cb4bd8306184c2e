import type { Forecasts } from '../api/client'

type Forecast = Forecasts['forecasts'][number]

/** What was said of a mould, and what came of it. */
export function ForecastLine({ forecast: c }: { forecast: Forecast }) {
  return (
    <>
      {c.at === 0 ? 'new' : `after ${c.at} pulls`}: <span className="num">{c.low}</span> to <span className="num">{c.high}</span> more,
      likely <span className="num">{c.middle}</span>; {c.wornOut ? 'it gave' : 'so far'} <span className="num">{c.gave}</span>{' '}
      {fates[c.fate]}
    </>
  )
}

const fates: Record<Forecast['fate'], string> = {
  open: '· open',
  less: '▾ wore out sooner',
  inside: '✓ inside',
  more: '▴ gave more',
}
