declare module 'lcov-parse' {
  namespace lcovParse {
    interface LcovFile {
      file: string
      lines: { found: number; hit: number; details: { line: number; hit: number }[] }
      branches: { found: number; hit: number }
    }
  }
  /** @param text of a trace file */
  function lcovParse(text: string, done: (error: unknown, data?: lcovParse.LcovFile[]) => void): void
  export = lcovParse
}
