// Puts the thread of an engine and the one of a reader into one file each, so that an engine starts without looking for hundreds of
// modules: most of what a short command takes. Run by `npm run build:node`; what stands there is used as long as nothing was built since.
import { spawnSync } from 'node:child_process'
import { rmSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { rolldown } from 'rolldown'
import { ENGINE_FLAGS } from '../packages/core/dist/engine/protocol.js'

const engine = join(dirname(fileURLToPath(import.meta.url)), '../packages/core/dist/engine')
/** Loaded when they are first needed, or not JavaScript. */
const LEFT_OUT = ['better-sqlite3', 'fast-check', /^istanbul-/, 'junit-report-builder', /^node:/]
for (const [thread, folder] of [
  ['worker', engine],
  ['reader-worker', join(engine, 'hosts')],
]) {
  const file = join(folder, `${thread}.bundle.cjs`)
  rmSync(file, { force: true })
  const bundle = await rolldown({
    input: join(folder, `${thread}.js`),
    platform: 'node',
    resolve: { mainFields: ['module', 'main'] },
    external: LEFT_OUT,
    logLevel: 'silent',
  })
  await bundle.write({
    file,
    // So that V8's compiled form of it can be kept (packages/core/compiled-script.mjs).
    format: 'cjs',
    banner: "'use strict';",
    // Names stay, so that an error of our own still says where it was.
    minify: { compress: true, mangle: false, codegen: { removeWhitespace: true } },
    codeSplitting: false,
  })
  await bundle.close()
}

// What V8 makes of it, and of TypeScript, depends on the flags that a process was started with.
const load = fileURLToPath(new URL('load-compiled.mjs', import.meta.url))
spawnSync(process.execPath, [...ENGINE_FLAGS, load, 'thread'], { stdio: 'inherit' })
spawnSync(process.execPath, [load], { stdio: 'inherit' })
