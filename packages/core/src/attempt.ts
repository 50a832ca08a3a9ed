/** What the work gives; undefined where it throws, of which nothing is to be said. */
export function attempt<T>(work: () => T): T | undefined {
  try {
    return work()
  } catch {
    return undefined
  }
}
