import type { Command } from 'commander'
import { runGate } from '@patient-hook/core/workbench'
import { EXIT, print, printJson, usage } from '../output.js'
import { withWorkbench } from '../project.js'

const PARTS = ['major', 'minor', 'patch'] as const
interface ReleaseOptions {
  plugin: string
  bump: string
  dry?: boolean
  json?: boolean
}

export function addRelease(program: Command): void {
  program
    .command('release')
    .description('Say what stands between the working copy of a plugin and its release: types, findings, unit tests, bulk proof.')
    .argument('[folder]', 'the project folder', '.')
    .requiredOption('--plugin <name>', 'which plugin')
    .requiredOption('--dry', 'only look: nothing is released')
    .option('--bump <part>', `which part of the version goes up: ${PARTS.join(', ')}`, 'patch')
    .option('--json', 'print for programs')
    .action(async (folder: string, { plugin, bump, json }: ReleaseOptions) => {
      const part = PARTS.find((each) => each === bump)
      if (!part) throw usage(`--bump: there is no ${JSON.stringify(bump)}; there are ${PARTS.join(', ')}`)
      const { gate, from } = await withWorkbench(folder, async (engines, files) => ({
        gate: await runGate(engines, files, plugin),
        from: versionOf(files[`plugins/${plugin}/plugin.json`] ?? '{}'),
      }))
      const version = bumped(from, part)
      if (json) printJson({ plugin, version, from, gate, kept: false })
      else {
        for (const { what, holds, detail } of gate)
          print(`${holds ? 'ok  ' : 'FAIL'} ${what}: ${detail.split('\n').join('\n       ')}`)
        const failed = gate.filter(({ holds }) => !holds).length
        print(
          `\n${plugin} ${from} → ${version}: ${failed === 0 ? 'nothing stands against it' : `${failed} of ${gate.length} stand against it`}`,
        )
      }
      process.exitCode = gate.every(({ holds }) => holds) ? EXIT.well : EXIT.notWell
    })
}

const versionOf = (text: string): string => (JSON.parse(text) as { version?: string }).version ?? '0.0.0'

/** The next version by semantic versioning (semver.org 2.0.0, from memory): what is smaller begins at 0, what follows `-` or `+` goes. */
function bumped(version: string, part: (typeof PARTS)[number]): string {
  const numbers = version.split(/[-+]/)[0]!.split('.').map(Number)
  const at = PARTS.indexOf(part)
  return numbers.map((number, index) => (index < at ? number : index === at ? number + 1 : 0)).join('.')
}
