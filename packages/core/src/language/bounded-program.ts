import { execFile, type ExecFileException } from 'node:child_process'

/**
 * Runs a program that must not outlive this process, whatever ends it: a killed process cleans nothing up. A shell that waits beside the
 * program for its input to end kills it, and the system’s own limits hold where nobody watches any more.
 */

export interface Bounds {
  cwd: string
  env: NodeJS.ProcessEnv
  /** Seconds, both of the clock and of the processor. */
  seconds: number
  /** Data the program may hold, in megabytes. */
  memoryMb: number
  /** Of output, in bytes. */
  maxBuffer: number
}

/** The program replaces the shell (so it has its number, $$); what waits for the input beside it has no output to hold open. */
const SCRIPT = `exec 3<&0
(read -r _ <&3; kill -9 $$) >/dev/null 2>&1 &
ulimit -t "$1"
ulimit -d "$2"
shift 2
exec "$@" </dev/null 3<&-`

/** @param tell gets the error, if any, and both outputs, once the program has ended */
export function runBounded(
  program: string,
  words: readonly string[],
  bounds: Bounds,
  tell: (error: ExecFileException | null, output: string, told: string) => void,
): void {
  const { cwd, env, seconds, memoryMb, maxBuffer } = bounds
  const options = { cwd, env, timeout: seconds * 1000, maxBuffer, killSignal: 'SIGKILL' } as const
  if (process.platform === 'win32') {
    execFile(program, words, options, tell)
    return
  }
  execFile('/bin/sh', ['-c', SCRIPT, 'sh', String(seconds), String(memoryMb * 1024), program, ...words], options, tell)
}
