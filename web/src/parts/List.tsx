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

/** Whether all words of a text stand somewhere in what is said of a thing. */
export function says(text: string, ...of: (string | undefined)[]): boolean {
  const said = of.join(' ').toLowerCase()
  return text
    .toLowerCase()
    .split(/\s+/)
    .every((word) => said.includes(word))
}
