import { VERSION } from '@patient-hook/contract/version'
import { Command, CommanderError } from 'commander'
import { addAdopt } from './commands/adopt.js'
import { addBackfill } from './commands/backfill.js'
import { addCheck } from './commands/check.js'
import { addExport } from './commands/export.js'
import { addImport } from './commands/import.js'
import { addInit } from './commands/init.js'
import { addNew } from './commands/new.js'
import { addTypes } from './commands/types.js'
import { addProve } from './commands/prove.js'
import { addRehearse } from './commands/rehearse.js'
import { addRelease } from './commands/release.js'
import { addServe } from './commands/serve.js'
import { addTest } from './commands/test.js'
import { endQuietly, EXIT, failed } from './output.js'

/** The patient-hook command. Exit codes: 0 all is well, 1 what was checked is not, 2 called wrongly. */

const program = new Command('patient-hook')
  .description('Write, rehearse and prove record hooks.')
  .version(VERSION)
  .addHelpText('after', '\nExit codes: 0 success, 1 a check failed or a save was refused, 2 wrong usage.')
  .exitOverride()
  .showHelpAfterError('(see patient-hook --help for all commands)')

addInit(program)
addNew(program)
addAdopt(program)
addTypes(program)
addTest(program)
addProve(program)
addCheck(program)
addRehearse(program)
addRelease(program)
addBackfill(program)
addExport(program)
addImport(program)
addServe(program)
for (const command of program.commands.flatMap((each) => [each, ...each.commands])) command.exitOverride()

endQuietly()

// Not waited for: what all of it is put into as one file (scripts/bundle.mjs) has no place for that.
void program.parseAsync().catch((error: unknown) => {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? EXIT.well : EXIT.calledWrongly
  else process.exitCode = failed(error, process.argv.includes('--json'))
})
