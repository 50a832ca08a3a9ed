import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { basename, join } from 'node:path'
import { VERSION } from '@patient-hook/contract/version'
import { usage } from './output.js'

/** The package.json of a project: scripts for the usual commands, and the dependency. */

const FILE = 'package.json'
const SCRIPTS = { check: 'patient-hook check', test: 'patient-hook test', serve: 'patient-hook serve' }

interface Package {
  scripts?: Record<string, string>
  dependencies?: Record<string, string>
  devDependencies?: Record<string, string>
}

/**
 * What adds scripts and the dependency to the package.json of a folder, or creates one. What is in it stays.
 * @returns writes it, and says what was done
 * @throws HookError where the file is not a JSON object
 */
export function packageAddition(root: string, folder: string): () => string {
  const target = join(root, FILE)
  const isNew = !existsSync(target)
  const text = isNew ? '{}' : readFileSync(target, 'utf8')
  const parsed = parse(text, join(folder, FILE))
  const scripts = Object.entries(SCRIPTS).flatMap(([name, line]) => {
    const free = [name, `hooks:${name}`].find((each) => parsed.scripts?.[each] === undefined)
    const isThere = Object.values(parsed.scripts ?? {}).includes(line)
    return free === undefined || isThere ? [] : [[free, line] as const]
  })
  const hasDependency = [parsed.dependencies, parsed.devDependencies].some((each) => each?.['patient-hook'] !== undefined)
  if (scripts.length === 0 && hasDependency) return () => `kept ${FILE}`
  const start = isNew ? { name: packageName(basename(root)), private: true, type: 'module' } : {}
  const changed = {
    ...start,
    ...parsed,
    scripts: { ...parsed.scripts, ...Object.fromEntries(scripts) },
    ...(hasDependency ? {} : { devDependencies: { ...parsed.devDependencies, 'patient-hook': `^${VERSION}` } }),
  }
  const indent = /^[ \t]+(?=")/m.exec(text)?.[0] ?? '  '
  const added = [...scripts.map(([name]) => `the script ${name}`), ...(hasDependency ? [] : ['the dependency patient-hook'])]
  return () => {
    writeFileSync(target, `${JSON.stringify(changed, null, indent)}\n`)
    return isNew ? `wrote ${FILE}` : `added to ${FILE}: ${added.join(', ')}`
  }
}

function parse(text: string, path: string): Package {
  try {
    const parsed: unknown = JSON.parse(text)
    if (typeof parsed === 'object' && parsed !== null && !Array.isArray(parsed)) return parsed
  } catch {
    // Said below.
  }
  throw usage(`${path} is not a JSON object: correct it, then add the scripts patient-hook check, test and serve to it`)
}

/** A name that npm accepts. */
const packageName = (folder: string): string =>
  folder
    .toLowerCase()
    .replace(/[^a-z0-9._-]+/g, '-')
    .replace(/^[._-]+|-+$/g, '') || 'hooks'
