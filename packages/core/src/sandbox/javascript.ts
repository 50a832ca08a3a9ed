import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping'
import ts from '#typescript'
import { LINE_BITS } from '../watch.js'
import type { CoveredText } from './cover.js'
import { emit, EMITTED_NAMES } from './emit.js'
import { eraseTypes } from './erase-types.js'
import { evade } from './evade.js'
import { addMeter } from './instrument.js'
import { bindModules, type ModuleNames } from './modules.js'
import { addProbes } from './probe.js'
import { RANK, TextEdits, type Added } from './text-edits.js'

/** Makes of a module's text what the sandbox runs. */

/** What the engine puts into a module's code, by its name there. */
export interface EngineNames extends ModuleNames {
  /** The meter: `{ n, m, stop() }`. */
  meter: string
  /** The cells, whose first holds the place: module number × 2^18 + line. */
  place: string
  probe: string
  /** What freezes functions of the module, once it has run. */
  seal: string
}

/** Leads from places of the code to those of what somebody wrote. */
export interface CodeMap {
  /** What was put in; lines are the same. */
  added: Added
  /** JSON of a source map from there on; null where that is what somebody wrote. */
  further: string | null
}

export interface ModuleCode {
  code: string
  map: CodeMap
  names: EngineNames
}

/**
 * What every equipment of a module begins with: its text as JavaScript, with the imports and exports of the sandbox.
 * @param source with parents, and without syntax errors
 * @param names free in it
 * @returns null where that is left to TypeScript's own emitter
 */
export function asJavaScript(source: ts.SourceFile, names: EngineNames): TextEdits | null {
  const edits = new TextEdits(source)
  return eraseTypes(source, edits) && bindModules(source, edits, names) ? edits : null
}

/**
 * @param source what somebody wrote, or `covered.text`
 * @param bare of the source
 * @param names free in it
 * @param probed with probes for a rehearsal
 * @param covered null where nothing is counted
 */
export function makeCode(
  source: ts.SourceFile,
  bare: TextEdits | null,
  names: EngineNames,
  moduleNumber: number,
  probed: boolean,
  covered: CoveredText | null,
): ModuleCode {
  const base = moduleNumber * 2 ** LINE_BITS
  if (bare) {
    const edits = new TextEdits(source, bare)
    if (probed) addProbes(source, edits, names.probe, base)
    addMeter(source, edits, names, moduleNumber, probed, covered?.lineAt)
    return { names, ...finished(edits, covered?.map ?? null) }
  }
  const probes = new TextEdits(source)
  if (probed) addProbes(source, probes, names.probe, base)
  const emitted = emit(source.fileName, probes.apply().text)
  const further = covered ? covered.mapFrom(emitted.map) : emitted.map
  const trace = new TraceMap(further)
  const javascript = ts.createSourceFile('x.js', emitted.text, ts.ScriptTarget.ES2022, true)
  const metered = new TextEdits(javascript)
  addMeter(javascript, metered, names, moduleNumber, probed, (line, column) => originalPositionFor(trace, { line, column }).line)
  return { names: { ...names, ...EMITTED_NAMES }, ...finished(metered, further) }
}

function finished(edits: TextEdits, further: string | null): Pick<ModuleCode, 'code' | 'map'> {
  edits.before(0, '"use strict";', RANK.head)
  const { text, added } = edits.apply()
  return { code: evade(text), map: { added, further } }
}
