import type { Command } from 'commander'
import type { GateResult, JobInfo, ReleaseInfo, ReleaseOverview, VersionPart } from '@patient-hook/contract'
import { pluginsIn } from '@patient-hook/contract/paths'
import { textRevision } from '@patient-hook/contract/text-revision'
import { VERSION_PARTS } from '@patient-hook/contract/words'
import { hintFor, runGate } from '@patient-hook/core/workbench'
import { withApplication, type Asked } from '../application.js'
import { examples, EXIT, print, printJson, usage } from '../output.js'
import { filesOf, withWorkbench } from '../project.js'
import { mark } from '../terminal.js'

interface ReleaseOptions {
  plugin: string
  with?: string[]
  bump: string
  data?: string
  note: string
  pilot?: string[]
  reason?: string
  withoutGate?: boolean
  user?: string
  back?: boolean
  dry?: boolean
  json?: boolean
}

/** What the command did or would do. */
interface Outcome {
  plugin: string
  version: string
  from: string | null
  gate: GateResult[]
  kept: boolean
  /** Of a step back: the version whose text it is. */
  textOf?: string | null
}

export function addRelease(program: Command): void {
  program
    .command('release')
    .addHelpText(
      'after',
      examples(
        'patient-hook release vault --plugin vault --dry',
        'patient-hook release --data .patient-hook --plugin vault --pilot ines',
        'patient-hook release --data .patient-hook --plugin vault --back',
      ),
    )
    .description('Run the release checks of a plugin (model, types, findings, unit tests, coverage, bulk proof) and release it.')
    .argument('[folder]', 'project folder to release from; default with --data: the working copy of the application')
    .requiredOption('--plugin <name>', 'plugin to release')
    .option('--with <names...>', 'other plugins to release together with it')
    .option('--data <folder>', "the application's folder; it may be running")
    .option('--bump <part>', `version part to bump: ${VERSION_PARTS.join(', ')}`, 'patch')
    .option('--note <text>', 'release note', '')
    .option('--pilot <user...>', 'audience: only these users')
    .option('--reason <text>', 'override reason for failed checks, stored with the release')
    .option('--without-gate', 'skip the release checks; requires --reason')
    .option('--user <name>', 'user who releases; default: the first user of the project')
    .option('--back', 'roll back to the previous version')
    .option('--dry', 'dry run: run the checks and release nothing')
    .option('--json', 'print JSON')
    .action(async (folder: string | undefined, options: ReleaseOptions) => {
      const part = VERSION_PARTS.find((each) => each === options.bump)
      if (!part) throw usage(`--bump: there is no ${JSON.stringify(options.bump)}; there are ${VERSION_PARTS.join(', ')}`)
      const { data, dry, back } = options
      if (data === undefined && !dry)
        throw usage('name the application to release to with --data FOLDER, or use --dry to run only the checks')
      if (back && dry) throw usage('--back cannot be combined with --dry')
      if (options.withoutGate && options.reason === undefined)
        throw usage('--without-gate requires --reason, which is stored with the release')
      const outcome =
        data === undefined
          ? await look(folder ?? '.', options, part)
          : await withApplication(data, (application) =>
              back ? stepBack(application, options) : release(application, folder, options, part),
            )
      tell(outcome, options)
      process.exitCode = outcome.kept || (dry && outcome.gate.every(({ holds }) => holds)) ? EXIT.well : EXIT.notWell
    })
}

/** The gate of a folder's text, beside no application. */
async function look(folder: string, { plugin, with: others }: ReleaseOptions, part: VersionPart): Promise<Outcome> {
  return withWorkbench(folder, async (engines, files) => {
    const own = files[`plugins/${plugin}/plugin.json`]
    if (own === undefined) {
      throw usage(`--plugin: there is no plugin ${plugin}${hintFor(plugin, pluginsIn(Object.keys(files)))}`)
    }
    const { gate } = await runGate(engines, files, { plugins: [plugin, ...(others ?? [])] })
    const { bumped, versionIn } = await import('@patient-hook/core')
    const from = versionIn(own) ?? '0.0.0'
    return { plugin, version: bumped(from, part), from, gate, kept: false }
  })
}

async function release(
  application: Asked,
  folder: string | undefined,
  options: ReleaseOptions,
  part: VersionPart,
): Promise<Outcome> {
  const { plugin, with: others = [], dry, note, user, reason = null, pilot = null, withoutGate = false } = options
  if (folder !== undefined) for (const each of [plugin, ...others]) await bringIn(application, folder, each)
  const before = await overviewOf(application, plugin)
  const outcome: Outcome = { plugin, version: before.next[part], from: newestOf(before), gate: [], kept: false }
  const job = dry
    ? await application.ask<JobInfo>('POST', '/releases/gate', { plugin, with: others, part })
    : await application.ask<JobInfo>('POST', '/releases', {
        plugin,
        with: others,
        part,
        note,
        user,
        reason,
        pilots: pilot,
        withoutGate,
      })
  const take = (result: object) => {
    if ('gate' in result) outcome.gate.push(result.gate as GateResult)
    if ('released' in result && (result.released as ReleaseInfo).plugin === plugin)
      Object.assign(outcome, { version: (result.released as ReleaseInfo).version, kept: true })
  }
  try {
    await application.follow(job.id, (event) => {
      if (event.event === 'state') event.results.forEach((result) => take(result))
      if (event.event === 'result') take(event.result)
    })
  } catch (error) {
    // What does not hold is traced line by line below.
    if (!outcome.gate.some(({ holds }) => !holds)) throw error
  }
  return outcome
}

async function stepBack(application: Asked, { plugin, user }: ReleaseOptions): Promise<Outcome> {
  const before = await overviewOf(application, plugin)
  const { version, textOf } = await application.ask<ReleaseInfo>('POST', '/releases/back', { plugin, user })
  return {
    plugin,
    version,
    from: before.releases.find(({ id }) => id === before.live)?.version ?? null,
    gate: [],
    kept: true,
    textOf,
  }
}

type PluginOverview = ReleaseOverview['plugins'][number]

async function overviewOf(application: Asked, plugin: string): Promise<PluginOverview> {
  const { plugins } = await application.ask<ReleaseOverview>('GET', '/releases')
  const own = plugins.find((each) => each.plugin === plugin)
  if (!own)
    throw usage(
      `--plugin: there is no plugin ${plugin}${hintFor(
        plugin,
        plugins.map((each) => each.plugin),
      )}`,
    )
  return own
}

const newestOf = ({ releases }: PluginOverview): string | null => releases[0]?.version ?? null

/** Makes the folder's text of a plugin the working copy. @throws HookError where the application's has changes that would be lost */
async function bringIn(application: Asked, folder: string, plugin: string): Promise<void> {
  const ofPlugin = (path: string) => path.startsWith(`plugins/${plugin}/`)
  const wanted = Object.fromEntries(Object.entries(filesOf(folder)).filter(([path]) => ofPlugin(path)))
  if (Object.keys(wanted).length === 0) throw usage(`${folder} has no plugin ${plugin}`)
  const { files: have } = await application.ask<{ files: Record<string, string> }>('GET', `/plugins/${plugin}/files`)
  const differing = [...new Set([...Object.keys(wanted), ...Object.keys(have)])].filter((path) => wanted[path] !== have[path])
  if (differing.length === 0) return
  const { plugins } = await application.ask<ReleaseOverview>('GET', '/releases')
  const unreleased = plugins.find((each) => each.plugin === plugin)?.working.files ?? []
  const lost = unreleased.map(({ file }) => file).filter((file) => differing.includes(file))
  if (lost.length > 0)
    throw usage(
      `the application's working copy of ${plugin} has changes that ${folder} has not, in ${lost.join(', ')}; release or export them first`,
    )
  await application.ask('PUT', '/files', {
    files: Object.fromEntries(differing.map((path) => [path, wanted[path] ?? null])),
    from: Object.fromEntries(differing.map((path) => [path, have[path] === undefined ? null : textRevision(have[path])])),
  })
}

function tell({ plugin, version, from, gate, kept, textOf }: Outcome, { json, dry, pilot, reason }: ReleaseOptions): void {
  if (json) return printJson({ plugin, version, from, gate, kept })
  for (const { what, holds, detail } of gate)
    print(`${mark(holds ? 'ok' : 'FAIL')} ${what}: ${detail.split('\n').join('\n       ')}`)
  const against = gate.filter(({ holds }) => !holds).length
  const stands = against === 0 ? `all ${gate.length} checks passed` : `${against} of ${gate.length} checks failed`
  const text = textOf ? `, the text of ${textOf}` : ''
  const to = pilot ? `to ${pilot.join(', ')}` : 'to everyone'
  const done = kept ? `released ${to}${text}${against > 0 && reason ? `, although ${stands}: ${reason}` : ''}` : stands
  print(`${gate.length > 0 ? '\n' : ''}${plugin} ${from ?? '(new)'} → ${version}: ${done}`)
  if (!kept && !dry) print('Not released. Fix the failed checks, or override them with --reason TEXT.')
}
