import { execFileSync } from 'node:child_process'
import { chmodSync, chownSync, existsSync, mkdirSync } from 'node:fs'
import { join } from 'node:path'

/** A PostgreSQL cluster in a folder, of Debian's package, for as long as it is needed. It listens on a socket in that folder only. */

const BIN = '/usr/lib/postgresql/15/bin'
const USER = 'postgres'

export const hasPostgres = (): boolean => existsSync(join(BIN, 'postgres'))

/** PostgreSQL does not run as root: then it runs as the user that the package made. */
const asRoot = process.getuid?.() === 0
const idOf = (flag: '-u' | '-g') => Number(execFileSync('id', [flag, USER], { encoding: 'utf8' }))

function run(program: string, ...values: string[]): void {
  const command = [join(BIN, program), ...values]
  const [file, ...given] = asRoot ? ['setpriv', `--reuid=${USER}`, `--regid=${USER}`, '--init-groups', ...command] : command
  execFileSync(file!, given, {
    stdio: ['ignore', 'ignore', 'inherit'],
    cwd: '/',
    env: { PATH: process.env['PATH'], LC_ALL: 'C.UTF-8' },
  })
}

/** @returns how to connect; stop ends it at once @throws Error where it cannot be started */
export function startCluster(folder: string): { options: { host: string; user: string; database: string }; stop: () => void } {
  const home = join(folder, 'cluster')
  mkdirSync(home)
  if (asRoot) {
    // The folder above belongs to root alone.
    chmodSync(folder, 0o755)
    chownSync(home, idOf('-u'), idOf('-g'))
  }
  const data = join(home, 'data')
  run('initdb', '-D', data, '-U', USER, '-A', 'trust', '-E', 'UTF8', '--locale=C.UTF-8')
  const settings = `-c listen_addresses='' -c unix_socket_directories='${home}'`
  run('pg_ctl', '-D', data, '-l', join(home, 'log'), '-w', '-o', settings, 'start')
  return {
    options: { host: home, user: USER, database: 'postgres' },
    stop: () => run('pg_ctl', '-D', data, '-m', 'immediate', 'stop'),
  }
}
