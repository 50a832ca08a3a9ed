// What `npm pack --workspace patient-hook` puts into the package beside its own files: the built workspaces, as dependencies that come
// with it, and in its package.json what they need from the registry. Run by npm before it packs, and with --remove after.
import { execFileSync } from 'node:child_process'
import { copyFileSync, cpSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { dirname, join, relative, sep } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = join(dirname(fileURLToPath(import.meta.url)), '..')
const target = join(root, 'packages/patient-hook')
const bundled = join(target, 'node_modules')
const DOCUMENTS = ['LICENSE', 'CHANGELOG.md']
const WORKSPACES = ['cli', 'contract', 'core', 'server', 'web']
/** Of a built workspace, only what runs. */
const LEFT_OUT = /\.(map|d\.ts|d\.mts|tsbuildinfo)$|\.built-from$/
/** Beside dist/. */
const PARTS = ['bin', 'compiled-script.mjs', 'thread.mjs', 'typescript.mjs']

const own = JSON.parse(readFileSync(join(target, 'package.json'), 'utf8'))
const isWorkspace = (name) => name.startsWith('@patient-hook/')
const others = (dependencies = {}) => Object.entries(dependencies).filter(([name]) => !isWorkspace(name))

const writeOwn = (needed, optional) => {
  const dependencies = Object.entries(own.dependencies).filter(([name]) => isWorkspace(name))
  const { optionalDependencies: _, ...rest } = own
  const all = { ...rest, dependencies: Object.fromEntries([...dependencies, ...needed].sort()) }
  if (optional.length > 0) all.optionalDependencies = Object.fromEntries(optional)
  writeFileSync(join(target, 'package.json'), JSON.stringify(all, null, 2) + '\n')
}

const remove = () => {
  rmSync(bundled, { recursive: true, force: true })
  for (const document of DOCUMENTS) rmSync(join(target, document), { force: true })
  writeOwn([], [])
}

remove()
if (!process.argv.includes('--remove')) {
  if (!existsSync(join(root, 'packages/cli/dist/main.bundle.cjs')) || !existsSync(join(root, 'packages/web/dist/index.html')))
    execFileSync('npm', ['run', 'build'], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] })
  for (const document of DOCUMENTS) copyFileSync(join(root, document), join(target, document))
  const staged = WORKSPACES.map(stage)
  writeOwn(
    staged.flatMap(({ dependencies }) => others(dependencies)),
    staged.flatMap(({ optionalDependencies }) => others(optionalDependencies)),
  )
}

/** @returns what it needs from the registry */
function stage(workspace) {
  const from = join(root, 'packages', workspace)
  const to = join(bundled, '@patient-hook', workspace)
  mkdirSync(to, { recursive: true })
  for (const part of ['dist', ...PARTS].filter((each) => existsSync(join(from, each))))
    cpSync(join(from, part), join(to, part), {
      recursive: true,
      filter: (file) => !LEFT_OUT.test(relative(from, file).split(sep).join('/')),
    })
  const { name, version, license, type, exports, imports, dependencies, optionalDependencies } = JSON.parse(
    readFileSync(join(from, 'package.json'), 'utf8'),
  )
  // The interface is built: what it is made of is in it.
  const needs = workspace === 'web' ? {} : { dependencies, optionalDependencies }
  writeFileSync(join(to, 'package.json'), JSON.stringify({ name, version, license, type, exports, imports, ...needs }, null, 2))
  return needs
}
