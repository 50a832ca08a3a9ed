// Looks for words that have a better one here (docs/glossary.md) in texts that people read: interface, errors, help and docs.
// `--list` prints all of these texts with their place, to be read through.
import { execFileSync } from 'node:child_process'
import { readFileSync } from 'node:fs'

/** [what is not written, what is written instead] */
const WORDS = [
  [/\bmend(s|ed|ing)?\b/i, 'fix'],
  [/\b(is|are|was|were|be) told\b/i, 'is shown, is reported'],
  [/\blook(s|ed)? at the gate\b|\bthe gate holds\b/i, 'run release checks, checks passed'],
  [/\b(take|bring)s? (it |them )?(out|in)\b|\bCSV (in|out)\b/i, 'export, import'],
  [/\btakes? (it |them )?back\b/i, 'undo (a backfill), roll back (a release)'],
  [/\banew\b/i, 'reset, again'],
  [/\bsmall mistakes?\b/i, 'mutations'],
  [/\bkeys? of other programs\b/i, 'API keys'],
  [/\bhold this run\b/i, 'set as baseline'],
  [/\bput away\b/i, 'dismiss'],
  [/\bof anybody\b|\bwhoever\b|\bwhatever refused\b/i, 'any user, any hook'],
  [/\bin the place of\b/i, 'instead of'],
  [/\b(is|are) no (time|number|text|date|zip|module|name)\b/i, 'is not a valid …'],
  [/\bis other\b|\bwhat is other\b/i, 'changed, the changes'],
  [/\bworked out\b/i, 'computed, cached'],
  [/\bas it is live\b/i, 'no unreleased changes'],
  [/\bReport this\b/, 'say what helps in this case'],
]
const READ =
  /^(README|CONTRIBUTING)\.md$|^docs\/.*\.md$|^packages\/web\/src\/.*\.(vue|ts)$|^packages\/cli\/src\/.*\.ts$|^packages\/core\/src\/(errors|findings|recipes)\/.*\.ts$/

const files = execFileSync('git', ['ls-files', '--cached', '--others', '--exclude-standard'], { encoding: 'utf8' })
  .split('\n')
  .filter((file) => READ.test(file))

/** Of code: text within quotes that has more than one word, and text between the tags of a template; not its comments. */
function textsOf(file, line) {
  if (file.endsWith('.md')) return [line]
  const code = line.replace(/^\s*(\/\*|\*|\/\/).*$/, '')
  const quoted = [...code.matchAll(/'([^']*\s[^']*)'|`([^`]*\s[^`]*)`|"([^"]*\s[^"]*)"/g)].map(([, ...parts]) =>
    parts.find(Boolean),
  )
  const between = file.endsWith('.vue') ? [...code.matchAll(/>([^<>{}]*[a-z][^<>{}]*)</gi)].map(([, text]) => text) : []
  const alone = file.endsWith('.vue') && /^\s+[A-Z][^<>={}()]*$/.test(code) ? [code] : []
  return [...quoted, ...between, ...alone].map((text) => text.trim()).filter((text) => text !== '')
}

let found = 0
for (const file of files) {
  const lines = readFileSync(file, 'utf8').split('\n')
  for (const [index, line] of lines.entries())
    for (const text of textsOf(file, line)) {
      if (process.argv.includes('--list')) console.log(`${file}:${index + 1}: ${text}`)
      for (const [word, better] of WORDS)
        if (word.test(text)) {
          console.error(`${file}:${index + 1}: ${JSON.stringify(word.exec(text)[0])}: write ${better}`)
          found++
        }
    }
}
process.exit(found > 0 ? 1 : 0)
