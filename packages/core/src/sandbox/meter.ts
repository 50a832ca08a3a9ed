/** Counts the steps of hook code. */
export interface Meter {
  /** Steps so far in this save. */
  n: number
  /** At which count `stop` is called. */
  m: number
  stop(): boolean
}
