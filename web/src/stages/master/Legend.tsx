import classes from './master.module.css'

/** What the colours on the part mean. */
export function Legend({ title, entries }: { title?: string; entries: readonly (readonly [string, string])[] }) {
  return (
    <>
      {title && <strong>{title}</strong>}
      <ul>
        {entries.map(([name, colour]) => (
          <li key={name}>
            <span className={classes.swatch} style={{ background: colour }} aria-hidden /> {name}
          </li>
        ))}
      </ul>
    </>
  )
}
