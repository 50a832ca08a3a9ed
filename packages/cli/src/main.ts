import { CommanderError } from 'commander'
import { endQuietly, EXIT, failed } from './output.js'
import { program } from './program.js'

/** The patient-hook command. Exit codes: 0 all is well, 1 what was checked is not, 2 called wrongly. */

endQuietly()

// Not waited for: what all of it is put into as one file (scripts/bundle.mjs) has no place for that.
void program.parseAsync().catch((error: unknown) => {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? EXIT.well : EXIT.calledWrongly
  else process.exitCode = failed(error, process.argv.includes('--json'))
})
