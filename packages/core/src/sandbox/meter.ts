/** A user who has set a limit to steps. */
export interface StepLimit {
  /** Called when the count passes the mark. @throws what ends the hook code */
  passed(): void
}

/** Counts the steps of hook code. */
export class Meter {
  /** Steps so far in this save. */
  n = 0
  /** At which count the limit is asked. */
  m = Number.MAX_SAFE_INTEGER
  /**
   * An object and not its own closure for each save: with one, V8 held the session of every save until the next full collection (measured: a
   * megabyte of the old generation for 500 rows).
   */
  limit: StepLimit | null = null

  /** Called by hook code. */
  stop(): boolean {
    this.limit?.passed()
    return false
  }
}
