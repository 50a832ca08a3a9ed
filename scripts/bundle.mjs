// Puts the command and the thread of an engine into one file each, so they start without looking for hundreds of modules: most of
// what a short command takes. Run by `npm run build:node`; the bundle is used until the next build (packages/core/src/bundle.ts).
import { spawnSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import { dirname, join, relative, sep } from 'node:path'
import { fileURLToPath } from 'node:url'
import { rolldown } from 'rolldown'
import { ENGINE_FLAGS } from '../packages/core/dist/engine/protocol.js'

const packages = join(dirname(fileURLToPath(import.meta.url)), '../packages')
const PROGRAMS = ['core/dist/engine/worker.js', 'cli/dist/main.js']
/** Loaded when they are first needed, or not JavaScript. */
const LEFT_OUT = ['better-sqlite3', 'fast-check', /^istanbul-/, 'junit-report-builder', 'fsevents', /^node:/]
const BANNER = `'use strict';
const ownUrl = (path) => require('node:url').pathToFileURL(require('node:path').join(__dirname, path)).href;`

/** What asks where it stands is shown where it was. */
const whereItStood = (folder) => ({
  name: 'where-it-was',
  transform: (code, file) =>
    code.includes('import.meta.url')
      ? {
          code: code.replaceAll('import.meta.url', `ownUrl(${JSON.stringify(relative(folder, file).split(sep).join('/'))})`),
          map: null,
        }
      : null,
})

for (const program of PROGRAMS) {
  const input = join(packages, program)
  const file = input.replace(/\.js$/, '.bundle.cjs')
  rmSync(file, { force: true })
  const bundle = await rolldown({
    input,
    platform: 'node',
    resolve: { mainFields: ['module', 'main'] },
    external: LEFT_OUT,
    logLevel: 'silent',
    plugins: [whereItStood(dirname(file))],
  })
  const { output } = await bundle.write({
    file,
    // So that V8's compiled form of it can be kept (packages/core/compiled-script.mjs).
    format: 'cjs',
    banner: BANNER,
    // Names stay, so that an error of our own still says where it was.
    minify: { compress: true, mangle: false, codegen: { removeWhitespace: true } },
    codeSplitting: false,
  })
  await bundle.close()
  // What runs from a text that V8 knows has no loader for them.
  const later = output.flatMap(({ fileName, dynamicImports = [] }) => dynamicImports.filter((each) => each !== fileName))
  if (later.length > 0) throw new Error(`${program}: ${later.join(', ')} cannot be imported later: require it, or put it in`)
}

// What V8 makes of them, and of TypeScript, depends on the flags that a process was started with.
const here = (file) => fileURLToPath(new URL(file, import.meta.url))
spawnSync(process.execPath, [...ENGINE_FLAGS, here('load-compiled.mjs'), 'thread'], { stdio: 'inherit' })
spawnSync(process.execPath, [here('load-compiled.mjs')], { stdio: 'inherit' })
spawnSync(process.execPath, [here('../packages/cli/bin/patient-hook.js'), '--version'], { stdio: 'ignore' })
