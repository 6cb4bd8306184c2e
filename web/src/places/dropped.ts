/** A file that was let go over the page, on its way to the job whose master it becomes. */
let waiting: { job: string; file: File } | null = null
const ears = new Set<() => void>()

export const dropped = {
  put(job: string, file: File) {
    waiting = { job, file }
    ears.forEach((e) => e())
  },
  /** Takes the file that waits for a job, once. */
  take(job: string): File | null {
    if (waiting?.job !== job) return null
    const { file } = waiting
    waiting = null
    return file
  },
  watch(told: () => void) {
    ears.add(told)
    return () => void ears.delete(told)
  },
}
