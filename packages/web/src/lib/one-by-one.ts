/** Runs what it is given in sequence, whatever became of the one before. */
export function oneByOne() {
  let last: Promise<unknown> = Promise.resolve()
  return {
    /** Settles as the work does. */
    run<T>(work: () => Promise<T>): Promise<T> {
      const next = last.then(work)
      last = next.catch(() => {})
      return next
    },
    /** Settles when all that was given so far has ended; never rejects. */
    ended: async (): Promise<void> => void (await last),
  }
}
