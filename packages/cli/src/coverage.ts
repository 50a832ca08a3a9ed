import type { CoveredFile, Share } from '@patient-hook/contract'

/** Coverage for people and for programs. */

type Shares = Pick<CoveredFile, 'statements' | 'branches'>

/** By hook, as `prove --json` tells it; modules of lib/ by their file. */
export function coverageOf(files: readonly CoveredFile[]): { hooks: Record<string, Shares>; modules: Record<string, Shares> } {
  const sharesOf = (chosen: readonly CoveredFile[], name: (file: CoveredFile) => string) =>
    Object.fromEntries(chosen.map((file) => [name(file), { statements: file.statements, branches: file.branches }]))
  return {
    hooks: sharesOf(
      files.filter(({ hook }) => hook !== null),
      ({ hook }) => hook!,
    ),
    modules: sharesOf(
      files.filter(({ hook }) => hook === null),
      ({ file }) => file,
    ),
  }
}

/** A line for each hook and module, with what no test ran below it, and one for all. */
export function coverageLines(files: readonly CoveredFile[]): string[] {
  const width = Math.max(4, ...files.map(({ hook, file }) => (hook ?? file).length))
  const line = (name: string, { statements, branches }: Shares, rest = '') =>
    `${name.padEnd(width)}  ${text(statements).padStart(14)}  ${text(branches).padStart(14)}${rest}`
  const sum = (of: keyof Shares): Share => ({
    covered: files.reduce((all, file) => all + file[of].covered, 0),
    total: files.reduce((all, file) => all + file[of].total, 0),
  })
  return [
    `${'hook'.padEnd(width)}  ${'statements'.padStart(14)}  ${'branches'.padStart(14)}`,
    ...files.map((file) => line(file.hook ?? file.file, file, gapText(file))),
    line('all', { statements: sum('statements'), branches: sum('branches') }),
  ]
}

const text = ({ covered, total }: Share): string =>
  total === 0 ? '-' : `${Math.floor((100 * covered) / total)} % ${covered}/${total}`

/** The lines that hold something that no test ran. */
function gapText({ gaps }: CoveredFile): string {
  const lines = [...new Set(gaps.map(({ line }) => line))]
  return lines.length === 0 ? '' : `  not run: line${lines.length === 1 ? '' : 's'} ${lines.join(', ')}`
}
