#!/usr/bin/env node
import { fileURLToPath } from 'node:url'
import { bundleOf } from '@patient-hook/core/bundle'

// All of the command is in one file, where that was made after the last build.
const main = new URL('../dist/main.js', import.meta.url)
const builds = ['contract', 'core', 'server', 'cli'].map((name) => new URL(`../../${name}/dist/.tsbuildinfo`, import.meta.url))
const bundle = bundleOf(main, builds)
if (bundle) {
  const { runBundle } = await import('@patient-hook/core/compiled-script')
  runBundle(fileURLToPath(bundle))
} else await import(main.href)
