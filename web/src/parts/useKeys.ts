import { useHotkeys } from '@mantine/hooks'

/** Whether keys go into a text there. */
function typing(at: EventTarget | null): boolean {
  if (at instanceof HTMLInputElement) return !['checkbox', 'radio', 'range', 'button', 'file', 'submit'].includes(at.type)
  return at instanceof HTMLTextAreaElement || (at instanceof HTMLElement && at.isContentEditable)
}

/** Keys that work wherever the focus is, but for a text that is being typed. */
export function useKeys(keys: [string, () => void][]) {
  useHotkeys(
    keys.map(([key, does]) => [
      key,
      (e) => {
        if (typing(e.target)) return
        e.preventDefault()
        does()
      },
      { preventDefault: false },
    ]),
    [],
    true,
  )
}
