import { existsSync } from 'node:fs'
import { join, resolve } from 'node:path'
import type { Command } from 'commander'
import { lockFolder, makeFolder } from '@patient-hook/core/workbench'
import { examples, print, printJson, usage } from '../output.js'
import { databaseIn } from '../project.js'
import { restoredLines } from '../restored.js'
import { endProgress, showProgress } from '../terminal.js'

export function addBackup(program: Command): void {
  program
    .command('backup')
    .addHelpText(
      'after',
      examples('patient-hook backup --data .patient-hook', 'patient-hook backup --data .patient-hook --out /backups/monday.db'),
    )
    .description('Back up the records of an application. It may be running; saves continue.')
    .requiredOption('--data <folder>', "the application's folder")
    .option('--out <file>', 'the backup; default: a new file in the folder backups of the application')
    .option('--json', 'print JSON')
    .action(async ({ data, out, json }: { data: string; out?: string; json?: boolean }) => {
      const database = databaseIn(data)
      const { backUp, stamp } = await import('@patient-hook/core')
      const target = resolve(out ?? join(data, 'backups', `records-${stamp(new Date())}.db`))
      if (existsSync(target)) throw usage(`--out ${target}: the file already exists; name another one`)
      makeFolder(join(target, '..'))
      await backUp(database, target, (done, total) => json || showProgress('backup', done, total))
      endProgress()
      if (json) printJson({ backup: target })
      else print(`Wrote ${target}`)
    })
  program
    .command('restore')
    .addHelpText('after', examples('patient-hook restore /backups/monday.db --data .patient-hook'))
    .description(
      'Replace the records of an application with a backup. The application must not be running; its records are kept beside it.',
    )
    .argument('<backup>', 'the backup to restore')
    .requiredOption('--data <folder>', "the application's folder")
    .option('--json', 'print JSON')
    .action(async (backup: string, { data, json }: { data: string; json?: boolean }) => {
      const folder = resolve(data)
      makeFolder(folder, 0o700)
      const lock = lockFolder(folder)
      try {
        const { restoreBackup } = await import('@patient-hook/core')
        const restored = restoreBackup(resolve(backup), join(folder, 'records.db'))
        if (json) return printJson(restored)
        print(`The records are those of ${backup}`)
        for (const line of restoredLines(restored)) print(line)
      } finally {
        lock.release()
      }
    })
}
