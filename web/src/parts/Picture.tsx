import { useId } from 'react'
import type { Drawing } from '../api/client'
import classes from './Picture.module.css'

/** A drawing of the core in the page's own tints; what is hatched on paper is hatched here. */
export function Picture({ drawing }: { drawing: Drawing }) {
  const id = useId()
  const each = Math.max(drawing.wide, drawing.tall) / 40
  return (
    <figure className={classes.figure}>
      <svg
        viewBox={`0 0 ${drawing.wide} ${drawing.tall}`}
        role="img"
        aria-label={drawing.arrow ? `${drawing.name}, ${drawing.arrow} up` : drawing.name}
      >
        <defs>
          {['rubber-a', 'clay', 'board'].map((tone, i) => (
            <pattern
              key={tone}
              id={`${id}-${tone}`}
              width={each * (i === 2 ? 2 : 1)}
              height={each}
              patternUnits="userSpaceOnUse"
              patternTransform={`rotate(${[45, -45, 0][i]})`}
            >
              <rect width={each * 2} height={each} className={classes[tone]} />
              <line x1="0" y1="0" x2={i === 2 ? each * 2 : 0} y2={i === 2 ? 0 : each} className={classes.hatch} />
            </pattern>
          ))}
        </defs>
        {drawing.areas.map((a, i) => {
          const hatched = a.tone === 'rubber-a' || a.tone === 'clay' || a.tone === 'board'
          return (
            <path
              key={i}
              d={a.path}
              fillRule="evenodd"
              className={hatched ? undefined : classes[a.tone]}
              fill={hatched ? `url(#${id}-${a.tone})` : undefined}
            />
          )
        })}
        {drawing.lines.map((l, i) => (
          <path key={i} d={l.path} className={l.tone === 'seam' ? classes.seam : classes.line} />
        ))}
        {drawing.words.map((w, i) => (
          <text key={i} x={w.x} y={w.y} className={classes.word} fontSize={each * 2.4} textAnchor="middle" dominantBaseline="middle">
            {w.words}
          </text>
        ))}
      </svg>
      <figcaption>
        {drawing.name}
        {drawing.arrow && (
          <span className={classes.arrow}>
            ↑ <span className="num">{drawing.arrow}</span>
          </span>
        )}
      </figcaption>
    </figure>
  )
}
