import { accessSync, closeSync, constants, existsSync, mkdirSync, openSync, writeFileSync } from 'node:fs'
import { dirname, resolve } from 'node:path'
import { describe, HookError, type ErrorReport } from '@patient-hook/core/workbench'
import { aboveProgress, endProgress, toned } from './terminal.js'

export const EXIT = { well: 0, notWell: 1, calledWrongly: 2 } as const

let cut = false

/** A reader that stops early, such as `head`, is fine. The work continues, because its exit code is still needed. */
export function endQuietly(): void {
  for (const stream of [process.stdout, process.stderr])
    stream.on('error', (error: NodeJS.ErrnoException) => {
      if (error.code !== 'EPIPE') throw error
      cut = true
    })
}

/** Does nobody read what is printed any more? */
export const isCut = (): boolean => cut

export const print = (text: string): void => {
  if (!cut) aboveProgress(() => process.stdout.write(text.endsWith('\n') ? text : text + '\n'))
}

/** What `--help` of a command ends with. */
export const examples = (...lines: string[]): string => `\nExamples:\n${lines.map((line) => `  ${line}`).join('\n')}`

/** `1 table`, `2 tables`. @param plural default: with an s */
export const counted = (count: number, noun: string, plural = `${noun}s`): string => `${count} ${count === 1 ? noun : plural}`

export const printJson = (value: unknown): void => print(JSON.stringify(value, null, 2))

/** An error for people: where, what, what to do. */
export function errorText(error: ErrorReport): string {
  const all = [error, ...(error.others ?? [])]
  return all.map((each) => `${toned('bad', describe(each), 'error')}\n  ${each.todo}`).join('\n')
}

const CALLED_WRONGLY: readonly string[] = ['command/usage', 'request/bad', 'save/unknown-user', 'save/bad-clock']

/** Prints what went wrong and gives the exit code for it. */
export function failed(error: unknown, json: boolean): number {
  endProgress()
  if (!(error instanceof HookError)) {
    process.stderr.write(`something went wrong in patient-hook itself: ${(error as Error).message}\n`)
    if (process.env['DEBUG']) process.stderr.write(`${(error as Error).stack ?? ''}\n`)
    return EXIT.notWell
  }
  if (json) printJson({ error: error.report })
  else process.stderr.write(errorText(error.report) + '\n')
  // A folder that is no project, or a fixture set that is not there, is a wrong call.
  const noProject = error.code === 'project/missing-file' && error.report.file?.endsWith('project.json')
  return noProject || CALLED_WRONGLY.includes(error.code) ? EXIT.calledWrongly : EXIT.notWell
}

/** A wrong call of the command. */
export const usage = (detail: string): HookError => new HookError('command/usage', { detail })

/** @param option by which the file was named @throws HookError where it cannot be written */
export const writeReport = (option: string, file: string, text: string | Uint8Array): void =>
  orUsage(option, file, () => {
    mkdirSync(dirname(resolve(file)), { recursive: true })
    writeFileSync(file, text)
  })

/** Makes the folder of a report, and looks whether it can be written, before any work is done for it. @throws HookError where not */
export const prepareReport = (option: string, file: string | undefined): void => {
  if (file !== undefined)
    orUsage(option, file, () => {
      mkdirSync(dirname(resolve(file)), { recursive: true })
      if (existsSync(file)) closeSync(openSync(file, 'r+'))
      else accessSync(dirname(resolve(file)), constants.W_OK)
    })
}

function orUsage(option: string, file: string, work: () => void): void {
  try {
    work()
  } catch (error) {
    throw usage(`${option} ${file} cannot be written: ${(error as Error).message}`)
  }
}
