// Writes docs/errors.md from the errors, docs/findings.md from the rules, docs/command-line.md from the commands. `--check` only says whether they are up to date.
import { readFileSync, writeFileSync } from 'node:fs'
import { program } from '../packages/cli/dist/program.js'
import { ERRORS } from '../packages/core/dist/errors.js'
import { RULES } from '../packages/core/dist/findings/index.js'
import { TABLE_RULES } from '../packages/core/dist/findings/tables/index.js'

const cell = (text) => text.replace(/\|/g, '\\|')
const errors = [
  '# Errors',
  '',
  'Every error has a stable code. Words in braces are filled in; each error also says where it stands.',
  '',
  '| code | what happened | what to do |',
  '|---|---|---|',
  ...Object.entries(ERRORS).map(([code, { message, todo }]) => `| \`${code}\` | ${cell(message)} | ${cell(todo)} |`),
]
const code = (example) => ['```ts', ...example.split('\n---\n').map((literal) => `defineHook(${literal})`), '```', '']
const findings = [
  '# Findings',
  '',
  'What `patient-hook check` and the editor say of a hook beyond its types. Where a rule takes a comment `// on purpose`, that is',
  'how to say that what it found is meant.',
  '',
  ...RULES.flatMap(({ meta, examples }) => [
    `## ${meta.name}`,
    '',
    `${meta.title}. (${meta.severity})`,
    '',
    meta.why,
    '',
    'Found:',
    '',
    ...code(examples.fail[0]),
    'Not found:',
    '',
    ...code(examples.pass[0]),
  ]),
  '# On tables',
  '',
  ...TABLE_RULES.flatMap(({ meta, examples }) => [
    `## ${meta.name}`,
    '',
    `${meta.title}. (${meta.severity})`,
    '',
    meta.why,
    '',
    `Found: ${examples.fail.map((each) => `\`${JSON.stringify(each)}\``).join(', ')}`,
    '',
    `Not found: ${examples.pass.map((each) => `\`${JSON.stringify(each)}\``).join(', ')}`,
    '',
  ]),
]
const help = (command) => {
  let text = ''
  command.configureOutput({ writeOut: (part) => (text += part), getOutHelpWidth: () => 100 }).outputHelp()
  return text.trimEnd()
}
const leaves = (command, path) =>
  command.commands.length === 0 ? [{ command, path }] : command.commands.flatMap((each) => leaves(each, [...path, each.name()]))
const commands = [
  '# Command line',
  '',
  'Every command prints this with `--help`. Exit codes: 0 success, 1 a check failed or a save was refused, 2 wrong usage. Colours are shown on a',
  'terminal, unless `--no-color` or the environment variable `NO_COLOR` is set; progress is shown on a terminal only.',
  '',
  ...leaves(program, []).flatMap(({ command, path }) => [`## ${path.join(' ')}`, '', '```', help(command), '```', '']),
]
let stale = false
for (const [file, lines] of [
  ['docs/errors.md', errors],
  ['docs/findings.md', findings],
  ['docs/command-line.md', commands],
]) {
  const text = lines.join('\n').trimEnd() + '\n'
  if (!process.argv.includes('--check')) writeFileSync(file, text)
  else if (readFileSync(file, 'utf8') !== text) {
    console.error(`${file} is out of date: node scripts/make-docs.mjs`)
    stale = true
  }
}
process.exit(stale ? 1 : 0)
