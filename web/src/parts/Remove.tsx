import classes from './Remove.module.css'

/** Takes an entry out of a list; the focus goes to what then stands in its place. */
export function Remove({ what, onRemove }: { what: string; onRemove: () => void }) {
  return (
    <button
      type="button"
      className={classes.remove}
      data-remove
      aria-label={`Remove ${what}`}
      onClick={(e) => {
        next(e.currentTarget)?.focus()
        onRemove()
      }}
    >
      ×
    </button>
  )
}

/** The next entry's button, else the one before, else what stands before the list or after it. */
function next(removed: HTMLElement): HTMLElement | null | undefined {
  const list = removed.closest<HTMLElement>('ul, [data-entries]')
  const all = [...(list?.querySelectorAll<HTMLElement>('[data-remove]') ?? [])]
  const at = all.indexOf(removed)
  return (
    all[at + 1] ?? all[at - 1] ?? list?.previousElementSibling?.querySelector('button') ?? list?.nextElementSibling?.querySelector('button')
  )
}
