import { Popover } from '@mantine/core'
import { memo, useRef, useState } from 'react'
import type { Derived, Kind } from '../api/client'
import classes from './Num.module.css'
import { roughly, show } from './units'
import { useSystem } from './useShop'

/** A measure in the shop's units: figures in italics, the unit smaller. */
export function Qty({ value, kind, className }: { value: number; kind: Kind; className?: string }) {
  const { text, unit } = show(value, kind, useSystem())
  return (
    <span className={`num ${className ?? ''}`}>
      {text}
      {unit && <small>{unit}</small>}
    </span>
  )
}

/** A computed number. Its dotted underline opens how it was worked out. One that rests on practice alone is said roughly. */
export const Num = memo(function Num({
  number,
  label,
  className,
  rough,
}: {
  number: Derived
  label: string
  className?: string
  rough?: boolean
}) {
  const [open, setOpen] = useState(false)
  const [asked, setAsked] = useState(false) // a page of numbers is light until one is opened
  const system = useSystem()
  const { text: exact, unit } = show(number.value, number.kind, system)
  const text = rough ? roughly(number.value, system) : exact
  const button = useRef<HTMLButtonElement>(null) // another one, once it has been asked
  const figure = (
    <button
      ref={button}
      type="button"
      className={`${classes.number} ${className ?? ''}`}
      aria-label={`${label}: ${text}${unit}, how it was worked out`}
      aria-expanded={open}
      onClick={() => {
        setAsked(true)
        setOpen(!open)
      }}
    >
      {rough ? <span className="num">{text}</span> : <Qty value={number.value} kind={number.kind} />}
    </button>
  )
  if (!asked) return figure
  return (
    <Popover opened={open} onChange={setOpen} position="left" width={380} trapFocus onClose={() => refocus(button.current)} withinPortal>
      <Popover.Target>{figure}</Popover.Target>
      <Popover.Dropdown className={classes.sum}>
        <h2>{label}</h2>
        <Sum number={number} />
      </Popover.Dropdown>
    </Popover>
  )
})

/** Gives the focus back, unless a hand has put it elsewhere. */
function refocus(to: HTMLElement | null) {
  const at = document.activeElement
  if (at === document.body || at?.closest('[role=dialog]')) to?.focus()
}

function Sum({ number }: { number: Derived }) {
  return (
    <>
      <p className={classes.formula}>
        = {number.formula} = <Qty value={number.value} kind={number.kind} />
      </p>
      <ul className={classes.inputs}>
        {number.inputs.map((input, i) => (
          <li key={i}>
            {input.number ? (
              <details>
                <summary>
                  <span>{input.name}</span>
                  <Qty value={input.value} kind={input.kind} />
                </summary>
                <Sum number={input.number} />
              </details>
            ) : (
              <>
                <div className={classes.line}>
                  <span>{input.name}</span>
                  <Qty value={input.value} kind={input.kind} />
                </div>
                <div className={classes.source}>{input.source}</div>
              </>
            )}
          </li>
        ))}
      </ul>
      {number.note && <p className={classes.source}>{number.note}</p>}
    </>
  )
}
