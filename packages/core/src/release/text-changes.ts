import type { ChangeKind, Files, TextChanges } from '@patient-hook/contract'
import type { Hook } from '../save/hook.js'
import type { Program } from '../save/program.js'
import { withVersion } from './composite.js'

/** Differences between two texts of a plugin: files, and hooks with their place in the save path. */

/** A text, with its hooks in order where it can be loaded. */
export interface PluginText {
  files: Files
  program: Program | null
}

export function textChanges(plugin: string, before: PluginText, after: PluginText): TextChanges {
  const [left, right] = [before.files, after.files].map((files) => withVersion(files, plugin, '0.0.0'))
  const files = [...new Set([...Object.keys(before.files), ...Object.keys(after.files)])].sort().flatMap((file) => {
    const change = changeOf(left![file], right![file])
    return change ? [{ file, change }] : []
  })
  const [old, now] = [hooksOf(plugin, before), hooksOf(plugin, after)]
  const hooks = [...new Set([...old.keys(), ...now.keys()])].sort().flatMap((hook) => {
    const [was, is] = [old.get(hook), now.get(hook)]
    if (!was) return [{ hook, change: 'added' as const, says: placeOf(is!) }]
    if (!is) return [{ hook, change: 'removed' as const, says: placeOf(was) }]
    const said = differences(was, is, before, after)
    return said.length === 0 ? [] : [{ hook, change: kindOf(said), says: said.map(({ text }) => text).join('; ') }]
  })
  return { files, hooks }
}

function changeOf(before: string | undefined, after: string | undefined): ChangeKind | null {
  if (before === after) return null
  return before === undefined ? 'added' : after === undefined ? 'removed' : 'changed'
}

const hooksOf = (plugin: string, { program }: PluginText): Map<string, Hook> =>
  new Map((program?.hooks ?? []).filter((hook) => hook.plugin === plugin).map((hook) => [hook.name, hook]))

const placeOf = ({ moment, table }: Hook): string => `${moment} of ${table}`

interface Difference {
  moves: boolean
  text: string
}
const kindOf = (said: readonly Difference[]): ChangeKind => (said.every(({ moves }) => moves) ? 'moved' : 'changed')

function differences(was: Hook, is: Hook, before: PluginText, after: PluginText): Difference[] {
  const said: Difference[] = []
  if (before.files[was.file] !== after.files[is.file]) said.push({ moves: false, text: 'its code' })
  if (was.file !== is.file) said.push({ moves: true, text: `its file: ${is.file} instead of ${was.file}` })
  if (placeOf(was) !== placeOf(is)) said.push({ moves: true, text: `${placeOf(is)} instead of ${placeOf(was)}` })
  else {
    const [left, right] = [neighbours(was, before, after), neighbours(is, after, before)]
    if (left !== right) said.push({ moves: true, text: `runs ${right} instead of ${left}` })
  }
  const [stateBefore, stateAfter] = [stateText(was), stateText(is)]
  if (stateBefore !== stateAfter) said.push({ moves: false, text: `${stateAfter} instead of ${stateBefore}` })
  return said
}

const names = new WeakMap<Program, ReadonlySet<string>>()

function namesOf(program: Program | null): ReadonlySet<string> {
  if (!program) return new Set()
  let known = names.get(program)
  if (!known) names.set(program, (known = new Set(program.hooks.map(({ name }) => name))))
  return known
}

/** After which hooks that both texts have it runs. */
function neighbours(hook: Hook, { program }: PluginText, other: PluginText): string {
  const both = namesOf(other.program)
  const list = (program?.at(hook.table, hook.moment) ?? []).map(({ name }) => name).filter((name) => both.has(name))
  const before = list.slice(0, list.indexOf(hook.name))
  return before.length === 0 ? 'first' : `after ${before.join(', ')}`
}

const stateText = ({ state }: Hook): string => (state.state === 'pilot' ? `pilot for ${state.users.join(', ')}` : state.state)
