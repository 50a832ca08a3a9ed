import { belongsToProject } from '@patient-hook/contract/paths'
import { nearest } from './names.js'

/** Files that look as if they belonged to a project, and would be read by nobody where they stand. */

const CODE = /(?<!\.d)\.[cm]?[jt]sx?$/i
const RECORDS = /\.(csv|json|tsv|xlsx)$/i
const FOLDERS = ['tables', 'plugins', 'fixtures', 'data']
const OF_PLUGIN = ['hooks', 'lib', 'tests']
/** Files of other tools, which may lie in a plugin's folder. */
const OF_TOOLS = /(^|\/)(package|tsconfig)(\.[\w-]+)?\.json$/

/** @returns where the file should stand, or what it should be called; null where nothing is wrong with its place */
export function misplaced(path: string): string | null {
  const [top, ...rest] = path.split('/') as [string, ...string[]]
  if (rest.length === 0 || OF_TOOLS.test(path) || !(CODE.test(path) || RECORDS.test(path))) return null
  if (belongsToProject(path)) return null
  switch (top) {
    case 'plugins':
      return ofPlugin(rest)
    case 'tables':
      return 'A table is a file tables/<table>.json.'
    case 'fixtures':
      return 'Records of a fixture set are files fixtures/<set>/<table>.csv or .json.'
    case 'data':
      return 'Records to begin with are files data/<table>.csv or .json.'
  }
  if (CODE.test(path) && OF_PLUGIN.includes(nearest(top, OF_PLUGIN) ?? ''))
    return `Plugin code belongs in plugins/<plugin>/${nearest(top, OF_PLUGIN)}/.`
  const meant = nearest(top, FOLDERS)
  return meant === null ? null : `The folder is called ${meant}.`
}

function ofPlugin([plugin, ...rest]: string[]): string | null {
  if (rest.length === 0) return 'A plugin is a folder: plugins/<plugin>/hooks/<hook>.ts.'
  const path = rest.join('/')
  if (CODE.test(path)) {
    if (OF_PLUGIN.includes(rest[0]!) && rest.length > 1) return 'Code is written in TypeScript, in files that end in .ts.'
    const meant = rest.length > 1 ? nearest(rest[0]!, OF_PLUGIN) : null
    return meant === null
      ? `Plugin code belongs in its folders ${OF_PLUGIN.join(', ')}.`
      : `The folder is called plugins/${plugin}/${meant}.`
  }
  return /^plugin\.json$/i.test(path) ? 'The file is called plugin.json.' : null
}

/** What a test should be called, or where it should stand; null for a test that is run, and for what is none. */
export function misplacedTest(path: string): string | null {
  if (!/[._-](spec|specs|test|tests)\.ts$/i.test(path)) return null
  if (!path.endsWith('.test.ts')) return 'Tests are files plugins/<plugin>/tests/<name>.test.ts.'
  return /^plugins\/[^/]+\/tests\//.test(path) ? null : 'Tests belong in plugins/<plugin>/tests/.'
}
