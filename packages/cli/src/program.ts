import { VERSION } from '@patient-hook/contract/version'
import { Command } from 'commander'
import { addAdopt } from './commands/adopt.js'
import { addBackfill } from './commands/backfill.js'
import { addBackup } from './commands/backup.js'
import { addCheck } from './commands/check.js'
import { addCompletion } from './commands/completion.js'
import { addExport } from './commands/export.js'
import { addImport } from './commands/import.js'
import { addInit } from './commands/init.js'
import { addKeys } from './commands/keys.js'
import { addNew } from './commands/new.js'
import { addTypes } from './commands/types.js'
import { addProve } from './commands/prove.js'
import { addRehearse } from './commands/rehearse.js'
import { addRelease } from './commands/release.js'
import { addServe } from './commands/serve.js'
import { addTest } from './commands/test.js'

/** All commands; a file for each. */

export const program = new Command('patient-hook')
  .description('Write, rehearse and prove record hooks.')
  .version(VERSION)
  .option('--no-color', 'print without colours')
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
addBackup(program)
addKeys(program)
addCompletion(program)
for (const command of program.commands.flatMap((each) => [each, ...each.commands])) command.exitOverride()
