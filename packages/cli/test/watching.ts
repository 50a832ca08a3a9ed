import { spawn } from 'node:child_process'
import { join } from 'node:path'

/** A command that goes on until it is reported to end: what it reports is waited for. */

const cli = join(import.meta.dirname, '../bin/patient-hook.js')

export interface Watching {
  /** Until something new that is reported matches. @returns all that was reported since the last time */
  until(pattern: RegExp): Promise<string>
  /** Ends it as Ctrl+C does. @returns its exit code */
  end(): Promise<number | null>
}

export function watching(cwd: string, ...args: string[]): Watching {
  const child = spawn('node', [cli, ...args, '--watch'], { cwd, stdio: ['ignore', 'pipe', 'pipe'] })
  let told = ''
  let heard = () => {}
  for (const stream of [child.stdout, child.stderr])
    stream.setEncoding('utf8').on('data', (part: string) => {
      told += part
      heard()
    })
  return {
    async until(pattern) {
      while (!pattern.test(told)) await new Promise<void>((done) => (heard = done))
      const all = told
      told = ''
      return all
    },
    end() {
      const ended = new Promise<number | null>((done) => child.on('exit', (code) => done(code)))
      child.kill('SIGINT')
      return ended
    },
  }
}
