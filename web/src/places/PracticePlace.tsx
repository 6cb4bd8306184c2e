import { Checkbox, NativeSelect, SegmentedControl } from '@mantine/core'
import { useDocumentTitle } from '@mantine/hooks'
import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { Link } from 'react-router'
import { api, asProblem, type Practice, type Problem, type Shop } from '../api/client'
import { changes, hear, make } from '../kept/changes'
import { MeasureInput } from '../parts/MeasureInput'
import { Qty } from '../parts/Num'
import { PressureInput } from '../parts/PressureInput'
import { WarmthInput } from '../parts/WarmthInput'
import { Refused } from '../parts/Refused'
import { sayOutcome } from '../parts/Say'
import { useShop, useTemperature } from '../parts/useShop'
import { Instruments } from './Instruments'
import { Schools } from './Schools'
import classes from './places.module.css'

/** What is to change, or how it follows from what is there when its turn comes. */
export type Change = Partial<Practice> | ((now: Practice) => Partial<Practice>)

/** House practice: where casters differ, this shop has decided. */
export function PracticePlace() {
  useDocumentTitle('House practice · Bathyform')
  const shop = useShop()
  const [refused, setRefused] = useState<Problem | null>(null)
  const queries = useQueryClient()
  const temperature = useTemperature()
  const latest = useRef(shop)
  useEffect(() => {
    if (shop && shop.version >= (latest.current?.version ?? 0)) latest.current = shop
  }, [shop])
  useEffect(() => hear('refused', () => void (latest.current = undefined)), [])
  if (!shop) return <main className={classes.place} />
  const p = shop.practice

  /** Each change on top of the one before, which need not have arrived: a quick hand is no second window. */
  function put(part: Change) {
    const now = latest.current ?? shop!
    const practice = { ...now.practice, ...(typeof part === 'function' ? part(now.practice) : part) }
    const expected = { ...now, practice, version: now.version + 1 }
    latest.current = expected
    const shown = api.queryOptions('get', '/shop', {}).queryKey
    queries.setQueryData(shown, expected)
    setRefused(null)
    void (async () => {
      try {
        const outcome = await make(changes.keepPractice(now.version, practice))
        if (outcome.sent && latest.current?.version === expected.version) {
          latest.current = outcome.data as Shop
          queries.setQueryData(shown, latest.current)
        }
        sayOutcome(outcome, 'House practice kept')
        if (!outcome.sent) return
      } catch (thrown) {
        latest.current = undefined
        setRefused(asProblem(thrown))
      }
      void queries.invalidateQueries()
    })()
  }

  const measure = (
    label: string,
    kind: 'length' | 'mass' | 'volume' | 'number',
    value: number,
    keep: (v: number) => Partial<Practice>,
    unit?: string,
  ) => <MeasureInput label={label} kind={kind} unit={unit} value={value} onChange={(v) => v !== null && put(keep(v))} />
  const us = p.units === 'us'
  const pressure = p.each?.pressure ?? (us ? 'psi' : 'kPa')
  const change = (unit: Record<string, string>) => put((now) => ({ each: { ...now.each, ...unit } }))
  /** The unit of one kind by itself: inches and grams are how many shops work. */
  const each = (kind: string, label: string, units: Record<string, string>, now: string = p.each?.[kind] ?? p.units) => (
    <NativeSelect
      label={label}
      value={now}
      onChange={(e) => change({ [kind]: e.currentTarget.value })}
      data={Object.entries(units).map(([value, label]) => ({ value, label }))}
    />
  )
  return (
    <main className={classes.place}>
      <header className={classes.head}>
        <h1>House practice</h1>
        <span>
          <Link to="/learnt">What the log teaches</Link> <span className="soft">· {shop.name}</span>
        </span>
      </header>
      <Refused problem={refused} />
      <p className={classes.why}>
        Practitioners differ, and each school has its reason. New designs start from what is set here; every job may still do it
        differently. All starting values are common practice, no source.
      </p>

      <h2 className={classes.section}>Units</h2>
      <div className={classes.form}>
        <SegmentedControl
          aria-label="Units"
          value={p.units}
          onChange={(units) => put({ units: units as Practice['units'], each: {} })}
          data={[
            { value: 'metric', label: 'mm, g, mL' },
            { value: 'us', label: 'in, oz, US fl oz' },
          ]}
        />
        {each('length', 'Lengths', { metric: 'mm', us: 'inches' })}
        {each('volume', 'Volumes', { metric: 'mL', us: 'US fl oz' })}
        {each('mass', 'Weights', { metric: 'g', us: 'oz' })}
        {each('pressure', 'Pressure', { kPa: 'kPa', psi: 'psi', bar: 'bar' }, pressure)}
        {each('temperature', 'Temperature', { '°C': '°C', '°F': '°F' }, temperature)}
        <Checkbox
          label="Decimals are written with a comma"
          checked={p.decimalComma}
          onChange={(e) => put({ decimalComma: e.currentTarget.checked })}
        />
      </div>

      <h2 className={classes.section}>Feed</h2>
      <p className={classes.why}>
        Low: resin rises and pushes the air up, a vent leaves from every high spot. From the top: one broad opening lets resin down and air
        up at once; right where the part has one broad high end.
      </p>
      <div className={classes.form}>
        <SegmentedControl
          aria-label="Feed"
          value={p.feed}
          onChange={(feed) => put({ feed: feed as Practice['feed'] })}
          data={[
            { value: 'low', label: 'low, vents above' },
            { value: 'top', label: 'from the top' },
          ]}
        />
        {measure('Sprue bore', 'length', p.sprueBore, (v) => ({ sprueBore: v }))}
        {measure('Opening at the top', 'length', p.topBore, (v) => ({ topBore: v }))}
        {measure('Vent bore', 'length', p.ventBore, (v) => ({ ventBore: v }))}
        {measure('Well rim', 'length', p.wellWidth, (v) => ({ wellWidth: v }))}
        {measure('Well depth', 'length', p.wellDepth, (v) => ({ wellDepth: v }))}
        {measure('Rubber, channel to part', 'length', p.webs.part, (v) => ({ webs: { ...p.webs, part: v } }))}
        {measure('Rubber, channel to channel', 'length', p.webs.apart, (v) => ({ webs: { ...p.webs, apart: v } }))}
        {measure('Rubber, channel to wall', 'length', p.webs.wall, (v) => ({ webs: { ...p.webs, wall: v } }))}
        {measure('Stream from the cup', 'length', p.stream, (v) => ({ stream: v }))}
        {measure('Rest in the cup', 'volume', p.cupKeeps, (v) => ({ cupKeeps: v }))}
        {measure('Rest in a syringe', 'volume', p.syringeKeeps, (v) => ({ syringeKeeps: v }))}
      </div>

      <h2 className={classes.section}>Rubber round the part</h2>
      <p className={classes.why}>
        <Qty kind="length" value={6} /> to <Qty kind="length" value={13} /> for small parts, <Qty kind="length" value={13} /> to{' '}
        <Qty kind="length" value={19} /> for larger ones, more for firm clear rubber. Too thin flexes and tears; too thick wastes rubber.
      </p>
      <div className={classes.form}>
        {measure('Clear beside', 'length', p.clearance.beside, (v) => ({ clearance: { ...p.clearance, beside: v } }))}
        {measure('Clear below', 'length', p.clearance.below, (v) => ({ clearance: { ...p.clearance, below: v } }))}
        {measure('Clear above', 'length', p.clearance.above, (v) => ({ clearance: { ...p.clearance, above: v } }))}
        {measure('Boards', 'length', p.panelThick, (v) => ({ panelThick: v }))}
        {measure('Freeboard of the box', 'length', p.freeboard, (v) => ({ freeboard: v }))}
        {measure('Stays in the bucket', 'number', p.rubberOver, (v) => ({ rubberOver: v }), '%')}
      </div>

      <h2 className={classes.section}>Hours, cures and cuts</h2>
      <p className={classes.why}>
        Hands work while the shop is open, rubber cures through the night; ten degrees colder doubles a cure. A jagged cut registers by
        itself, a straight one finds the part more easily.
      </p>
      <div className={classes.form}>
        {measure('Opens at', 'number', p.opens, (v) => ({ opens: v }), 'h')}
        {measure('Closes at', 'number', p.closes, (v) => ({ closes: v }), 'h')}
        <WarmthInput label="In the shop" value={p.celsius} onChange={(v) => v !== null && put({ celsius: v })} />
        {measure('Mixing any batch', 'number', p.mixMinutes, (v) => ({ mixMinutes: v }), 'min')}
        {measure('and each kilogram', 'number', p.mixPerKilo, (v) => ({ mixPerKilo: v }), 'min')}
        {measure('Degassing any batch', 'number', p.degasMinutes, (v) => ({ degasMinutes: v }), 'min')}
        {measure('and each kilogram of it', 'number', p.degasPerKilo, (v) => ({ degasPerKilo: v }), 'min')}
        {measure('Pouring any batch', 'number', p.pourMinutes, (v) => ({ pourMinutes: v }), 'min')}
        {measure('and for each kilogram', 'number', p.pourPerKilo, (v) => ({ pourPerKilo: v }), 'min')}
        <Checkbox label="Weekends are worked" checked={p.weekends} onChange={(e) => put({ weekends: e.currentTarget.checked })} />
        <Checkbox label="Rubber is degassed" checked={!p.noDegas} onChange={(e) => put({ noDegas: !e.currentTarget.checked })} />
        <Checkbox
          label="Blocks are cut straight, not jagged"
          checked={p.straight}
          onChange={(e) => put({ straight: e.currentTarget.checked })}
        />
      </div>

      <Instruments practice={p} put={put} />

      <Schools practice={p} put={(part) => put(part)} />

      <h2 className={classes.section}>Shot and scale</h2>
      <p className={classes.why}>
        One digit of the scale, and how far the ratio may be off. From both follows the smallest batch that can be weighed.
      </p>
      <div className={classes.form}>
        {measure('Cup, flash and margin', 'number', p.shotOver, (v) => ({ shotOver: v }), '%')}
        {measure('Scale shows steps of', 'mass', p.scaleStep, (v) => ({ scaleStep: v }))}
        {measure('Ratio may be off by', 'number', p.ratioTolerance, (v) => ({ ratioTolerance: v }), '%')}
        {measure('Scale takes at most', 'mass', p.scaleMost, (v) => ({ scaleMost: v }))}
      </div>

      <h2 className={classes.section}>What is usual</h2>
      <p className={classes.why}>Before a job’s own log says better. What comes out good counts as ten castings beside those of the job.</p>
      <div className={classes.form}>
        {measure('Good castings of a hundred', 'number', p.goodOf100, (v) => ({ goodOf100: v }))}
        {measure('Finishing takes, of what is reckoned', 'number', p.finishPace, (v) => ({ finishPace: v }), 'times')}
      </div>

      <h2 className={classes.section}>What the shop has</h2>
      <p className={classes.why}>
        0 where there is none. A part that does not fit is said on its Master stage. Never beyond the rating on the pot’s plate.
      </p>
      <div className={classes.form}>
        {measure('Pressure pot, inside', 'length', p.potWide, (v) => ({ potWide: v }))}
        {measure('Pot, height inside', 'length', p.potTall, (v) => ({ potTall: v }))}
        <PressureInput label="Castings cure under" value={p.pressure} onChange={(v) => v !== null && put({ pressure: v })} />
        {measure('Vacuum chamber, inside', 'length', p.chamberWide, (v) => ({ chamberWide: v }))}
        {measure('Largest bucket', 'volume', p.bucket, (v) => ({ bucket: v }))}
        {measure('Detail to brush first, under', 'length', p.detail, (v) => ({ detail: v }))}
      </div>
    </main>
  )
}
