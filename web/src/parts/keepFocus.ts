const look = 100 // ms
const most = 4000 // ms an action may take until what it leaves behind is there

const reachable = 'button, a[href], input, select, textarea, summary, [tabindex]:not([tabindex="-1"])'

/**
 * Whoever presses a control by a key or by voice goes on from there: where the
 * control is taken away, greyed out or left for another view by what it did, the
 * focus goes to the control again as soon as it can be pressed, else to the
 * heading of what stands in its place. Returns how to stop.
 */
export function keepFocus(): () => void {
  let watch: ReturnType<typeof setInterval> | undefined
  const pressed = (e: MouseEvent) => {
    clearInterval(watch)
    if (e.detail > 0 || !(e.target instanceof HTMLElement)) return // a pointer has its own place
    const control = e.target
    const around = ancestors(control)
    const path = location.pathname
    let waited = 0
    let lost = 0
    watch = setInterval(() => {
      waited += look
      if (waited > most) clearInterval(watch)
      if (document.activeElement !== document.body) {
        lost = 0
        return
      }
      lost++
      if (usable(control)) control.focus()
      else if (!control.isConnected ? lost > 2 : waited >= most) landing(path === location.pathname ? around : [])?.focus()
    }, look)
  }
  window.addEventListener('click', pressed, { capture: true })
  return () => {
    clearInterval(watch)
    window.removeEventListener('click', pressed, { capture: true })
  }
}

function ancestors(of: HTMLElement): HTMLElement[] {
  const all: HTMLElement[] = []
  for (let e = of.parentElement; e && e !== document.body; e = e.parentElement) all.push(e)
  return all
}

const usable = (e: HTMLElement) => e.isConnected && !e.matches(':disabled, [data-disabled], [data-loading]')

/** The first heading or control in the nearest place around that is still there; else the view's own heading. */
function landing(around: HTMLElement[]): HTMLElement | null {
  const near = around.filter((e) => e.isConnected).map((e) => e.querySelector<HTMLElement>(`h1, h2, h3, ${reachable}`))
  const to = near.find((e) => e !== null && e !== undefined) ?? document.querySelector<HTMLElement>('main h1, main h2')
  if (to && !to.matches(reachable)) to.tabIndex = -1
  return to
}
