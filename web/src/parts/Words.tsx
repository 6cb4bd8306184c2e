import classes from './Words.module.css'
import { words } from './words'

/** The trade's words that a panel uses, explained where they stand. */
export function Words({ of }: { of: string[] }) {
  return (
    <details className={classes.words}>
      <summary>Words used here</summary>
      <dl>
        {words
          .filter(([term]) => of.some((word) => term.split(', ').includes(word)))
          .map(([term, meaning]) => (
            <div key={term}>
              <dt>{term}</dt> <dd>{meaning}</dd>
            </div>
          ))}
      </dl>
    </details>
  )
}
