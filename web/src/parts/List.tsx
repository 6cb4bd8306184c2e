import { Button, TextInput } from '@mantine/core'
import classes from './List.module.css'

interface ToolsProps {
  /** Which table the server writes. */
  table: 'jobs' | 'rack' | 'log' | 'stock'
  job?: string
  print?: () => void
  /** A field that narrows the list down. */
  find?: { text: string; set: (text: string) => void; among: string }
}

/** What can be done with a whole list: find in it, print it, take it to a spreadsheet. */
export function ListTools({ table, job, print = () => window.print(), find }: ToolsProps) {
  return (
    <span className={classes.tools}>
      {find && (
        <TextInput
          size="xs"
          aria-label={`Find among the ${find.among}`}
          placeholder={`Find among the ${find.among}`}
          value={find.text}
          onChange={(e) => find.set(e.currentTarget.value)}
        />
      )}
      <a href={`/api/tables/${table}${job ? `?job=${job}` : ''}`} download aria-label={`The ${table} as CSV, for a spreadsheet`}>
        CSV
      </a>
      <button type="button" className="quiet" onClick={print}>
        print
      </button>
    </span>
  )
}

/** The rest of a long list, on demand. */
export function More({ left, onMore }: { left: number; onMore: () => void }) {
  if (left === 0) return null
  return (
    <Button className={classes.more} variant="default" onClick={onMore}>
      Show more, {left} left
    </Button>
  )
}

interface PagesProps {
  of: string
  total: number
  skip: number
  page: number
  newer: string
  older: string
  onSkip: (skip: number) => void
}

/** Which part of a long list is shown, and the parts before and after it; nothing where all of it is. */
export function Pages({ of, total, skip, page, newer, older, onSkip }: PagesProps) {
  if (total <= page) return null
  return (
    <nav aria-label={`Pages of ${of}`} className={classes.pages}>
      <Button variant="default" disabled={skip === 0} onClick={() => onSkip(Math.max(0, skip - page))}>
        {newer}
      </Button>
      <span className="num">
        {Math.min(skip + 1, total)} to {Math.min(skip + page, total)} of {total}
      </span>
      <Button variant="default" disabled={skip + page >= total} onClick={() => onSkip(skip + page)}>
        {older}
      </Button>
    </nav>
  )
}

/** Whether all words of a text stand somewhere in what is said of a thing. */
export function says(text: string, ...of: (string | undefined)[]): boolean {
  const said = of.join(' ').toLowerCase()
  return text
    .toLowerCase()
    .split(/\s+/)
    .every((word) => said.includes(word))
}
