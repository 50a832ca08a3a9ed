import type { Command, Option } from 'commander'
import { print, usage } from '../output.js'

/** Completion scripts for shells, made of the commands themselves. */

interface Choice {
  word: string
  help: string
}
interface Level {
  /** Commands that lead here, such as `new hook`; '' for the program. */
  path: string
  choices: Choice[]
}

const SHELLS: Readonly<Record<string, (levels: readonly Level[]) => string>> = { bash, zsh, fish }

export function addCompletion(program: Command): void {
  program
    .command('completion')
    .description('Print a completion script for a shell: bash, zsh or fish.')
    .argument('<shell>', Object.keys(SHELLS).join(', '))
    .addHelpText('after', '\nExample:\n  patient-hook completion bash >> ~/.bashrc')
    .action((shell: string) => {
      const script = Object.hasOwn(SHELLS, shell) ? SHELLS[shell] : undefined
      if (!script) throw usage(`there is no completion for ${shell}; there is one for ${Object.keys(SHELLS).join(', ')}`)
      print(script(levelsOf(program, [])))
    })
}

function levelsOf(command: Command, path: readonly string[]): Level[] {
  const options = command.options.flatMap(({ long, description }: Option) => (long ? [{ word: long, help: description }] : []))
  const commands = command.commands.map((each) => ({ word: each.name(), help: each.description() }))
  const own = { path: path.join(' '), choices: [...commands, ...options, { word: '--help', help: 'display help for command' }] }
  return [own, ...command.commands.flatMap((each) => levelsOf(each, [...path, each.name()]))]
}

/** Words after the program until the cursor that are no options are the path; the longest known one counts. */
function bash(levels: readonly Level[]): string {
  const cases = levels.map(
    ({ path, choices }) => `    ${JSON.stringify(path)}) words="${choices.map(({ word }) => word).join(' ')}" ;;`,
  )
  return `_patient_hook() {
  local current="\${COMP_WORDS[COMP_CWORD]}" path="" longer words="" i
  for ((i = 1; i < COMP_CWORD; i++)); do
    longer="\${path:+$path }\${COMP_WORDS[i]}"
    case "$longer" in
${levels.flatMap(({ path }) => (path === '' ? [] : [`      ${JSON.stringify(path)}) path="$longer" ;;`])).join('\n')}
    esac
  done
  case "$path" in
${cases.join('\n')}
  esac
  COMPREPLY=($(compgen -W "$words" -- "$current") $(compgen -f -- "$current"))
}
complete -o filenames -F _patient_hook patient-hook
`
}

function zsh(levels: readonly Level[]): string {
  return `autoload -U +X bashcompinit && bashcompinit\n${bash(levels)}`
}

function fish(levels: readonly Level[]): string {
  const text = (value: string) => `'${value.replaceAll('\\', '\\\\').replaceAll("'", "\\'")}'`
  return levels
    .flatMap(({ path, choices }) =>
      choices.map(({ word, help }) => {
        const condition =
          path === ''
            ? '__fish_use_subcommand'
            : path
                .split(' ')
                .map((each) => `__fish_seen_subcommand_from ${each}`)
                .join('; and ')
        const what = word.startsWith('--') ? `-l ${word.slice(2)}` : `-a ${word}`
        return `complete -c patient-hook -n ${text(condition)} ${what} -d ${text(help.split('\n')[0]!)}`
      }),
    )
    .join('\n')
}
