let ahead = 0 // ms by which the server's clock is ahead of this machine's

const believed = 10 * 60_000 // ms that clocks may differ without anybody minding

/** Hears what the server's clock says: a tablet's may be days off, and the log is the shop's. */
export function hearClock(date: string | null, now = Date.now()) {
  const served = date ? Date.parse(date) : NaN
  if (Number.isFinite(served)) ahead = Math.abs(served - now) > believed ? served - now : 0
}

/** Today as the date inputs write it, in the shop's own time. */
export function today(): string {
  const d = new Date(Date.now() + ahead)
  return `${d.getFullYear()}-${String(d.getMonth() + 1).padStart(2, '0')}-${String(d.getDate()).padStart(2, '0')}`
}

/** A date the way it is said in the shop: 12 Dec 2026. */
export function day(date: string): string {
  return new Date(`${date}T12:00:00`).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })
}

/** A moment the way it is said in the shop: 12 Dec 2026, 14:05. */
export function moment(at: Date): string {
  return at.toLocaleString('en-GB', { day: 'numeric', month: 'short', year: 'numeric', hour: '2-digit', minute: '2-digit' })
}
