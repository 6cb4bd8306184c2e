import { Row } from '../../parts/Row'
import classes from './mould.module.css'

/** A drawing at true size, to be cut by hand or machine, or printed on pages that are glued together. */
export function Templates({ label, path, query = '' }: { label: string; path: string; query?: string }) {
  return (
    <Row label={label}>
      <span className={classes.files}>
        {(['svg', 'dxf', 'pdf'] as const).map((form) => (
          <a key={form} href={`${path}/${form}${query}`} download aria-label={`${label} as ${form.toUpperCase()}`}>
            {form.toUpperCase()}
          </a>
        ))}
      </span>
    </Row>
  )
}
