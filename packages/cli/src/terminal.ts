/** What a terminal shows beyond plain text: colours and progress. Neither is written to a pipe. */

const CODES = { good: 32, bad: 31, warning: 33, quiet: 2, strong: 1 } as const
type Tone = keyof typeof CODES

/** By the usual conventions: --no-color, NO_COLOR (no-color.org), FORCE_COLOR, and the terminal itself. */
const isColored = (stream: NodeJS.WriteStream): boolean => {
  const { NO_COLOR: none, FORCE_COLOR: forced } = process.env
  if (process.argv.includes('--no-color') || (none !== undefined && none !== '')) return false
  if (forced !== undefined) return forced !== '0' && forced !== 'false'
  return stream.isTTY && stream.hasColors()
}
const colored = { out: isColored(process.stdout), error: isColored(process.stderr) }

/** The text in a tone, where the stream shows colours. */
export const toned = (tone: Tone, text: string, stream: keyof typeof colored = 'out'): string =>
  colored[stream] ? `\u001B[${CODES[tone]}m${text}\u001B[0m` : text

const MARKS: Readonly<Record<string, Tone>> = {
  ok: 'good',
  FAIL: 'bad',
  MISS: 'bad',
  skip: 'quiet',
  acc: 'warning',
  miss: 'quiet',
}

/** The word at the start of a line of results, four characters wide. */
export const mark = (word: string): string => toned(MARKS[word] ?? 'strong', word.padEnd(4))

/** Nothing is shown for work that ends sooner; milliseconds. */
const SOON_MS = 1000
const REDRAWN_MS = 100
const WIDTH = 24

let line = ''
let begun = 0
let drawn = 0

const erase = (): void => {
  if (line !== '') process.stderr.write('\r\u001B[K')
}

/** Shows how far a long piece of work has come, on a terminal only. @param total null: not known yet */
export function showProgress(what: string, done: number, total: number | null): void {
  if (!process.stderr.isTTY) return
  const now = performance.now()
  begun ||= now
  if (now - begun < SOON_MS || (now - drawn < REDRAWN_MS && done !== total)) return
  drawn = now
  const full = total === null || total === 0 ? 0 : Math.round((WIDTH * done) / total)
  const bar = total === null ? '' : ` ${'█'.repeat(full)}${'░'.repeat(WIDTH - full)} ${done} of ${total}`
  erase()
  line = `${what}${bar}`
  process.stderr.write(line)
}

export function endProgress(): void {
  erase()
  line = ''
  begun = drawn = 0
}

/** Writes lines above the progress. */
export function aboveProgress(write: () => void): void {
  erase()
  write()
  if (line !== '') process.stderr.write(line)
}

/** A duration for people: `640 ms`, `3.2 s`, `4 min 5 s`. */
export function durationText(ms: number): string {
  if (ms < 1000) return `${Math.round(ms)} ms`
  if (ms < 59_950) return `${(ms / 1000).toFixed(1)} s`
  const seconds = Math.round(ms / 1000)
  return `${Math.floor(seconds / 60)} min ${seconds % 60} s`
}
