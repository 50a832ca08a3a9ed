import type { Command } from 'commander'
import { folderDifferences } from '../folder-differences.js'
import { filesOf } from '../project.js'
import { examples, print, usage } from '../output.js'
import { restoredLines } from '../restored.js'

export function addServe(program: Command): void {
  program
    .command('serve')
    .addHelpText('after', examples('patient-hook serve vault --data .patient-hook --link'))
    .description('Start the application on 127.0.0.1 with a database filled from the project folder.')
    .argument('[folder]', 'the project folder', '.')
    .option('--data <folder>', 'folder of the database', '.patient-hook')
    .option('--port <number>', 'port; a free one if it is taken', '4180')
    .option('--link', 'synchronize the folder and the working copy in both directions')
    .option('--restore <file>', 'restore a backup first; the current records are saved next to it')
    .option('--accept-loss', 'start even though the database has lost committed saves')
    .option('--fresh', 'reset the data: delete the database first')
    .action(
      async (
        folder: string,
        options: { data: string; port: string; fresh?: boolean; link?: boolean; restore?: string; acceptLoss?: boolean },
      ) => {
        if (options.fresh && options.restore !== undefined)
          throw usage('use either --fresh or --restore: one resets the data, the other restores a backup')
        const { startServer } = await import('@patient-hook/server')
        const server = await startServer({
          files: () => filesOf(folder),
          dataFolder: options.data,
          port: portOf(options.port),
          fresh: options.fresh === true,
          ...(options.acceptLoss ? { acceptLoss: true } : {}),
          ...(options.link ? { link: folder } : {}),
          ...(options.restore === undefined ? {} : { restore: options.restore }),
        })
        if (options.restore !== undefined) print(`The records are those of ${options.restore}`)
        for (const line of restoredLines(server.restored)) print(line)
        if (!options.link) for (const line of folderDifferences(server.application.live.files, folder, options.data)) print(line)
        print(`The records are in ${server.database}`)
        print(`Patient Hook is at ${server.url}`)
        const stop = () => void server.close().then(() => process.exit(0))
        process.on('SIGINT', stop)
        process.on('SIGTERM', stop)
      },
    )
}

function portOf(text: string): number {
  const port = Number(text)
  if (!/^\d+$/.test(text) || port > 65_535) throw usage(`--port takes a number from 0 to 65535, but got ${JSON.stringify(text)}`)
  return port
}
