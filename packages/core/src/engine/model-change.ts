import type { ModelEdit, ModelPlan, Step } from '@patient-hook/contract'
import { describeAll, HookError } from '../errors.js'
import { withChanges } from '../model/files.js'
import { recordsFrom, type Altered } from '../model/infer-table.js'
import { rewriteRecords, type FieldChanges } from '../model/rewrite-records.js'
import { renameFieldInCode } from '../language/rename-field.js'
import { parseProject } from '../model/project.js'
import { lostSets, renamesOf, revisionOf, tableText } from '../model/table-edit.js'
import { parseTable } from '../model/table-file.js'
import { withoutEffect } from '../model/without-effect.js'
import type { Field, Project, RecordValues, Table, Value } from '../model/types.js'
import { followFields } from '../backfill/backfill-store.js'
import { ModelHistory } from '../save/model-history.js'
import { trySave } from '../save/save.js'
import type { Store } from '../store/database.js'
import { releasesInUse } from '../release/release-store.js'
import { followTable } from '../store/list-views.js'
import { applyChange, planChange, type TableChange } from '../store/table-change.js'
import type { LiveCode } from './live-code.js'
import { newErrors } from './new-errors.js'
import { nameOf, releasesAfter, type ReleaseAfter } from './releases-after.js'
import type { Runtime } from './runtime.js'

/** A change of the model, with everything that hangs on it: records, fixtures, code. Planned, shown, then done whole or not at all. */

export type { ModelEdit, ModelPlan } from '@patient-hook/contract'

interface Made {
  change: TableChange
  /** Text of files that change; null for those that go. */
  files: Map<string, string | null>
  project: Project
  records: RecordValues[]
  altered: Altered[]
}

/** @throws HookError where the edit itself is wrong, such as a bad name */
function make(project: Project, { table, edit, fills = {}, records, from }: ModelEdit): Made {
  const before = project.tables.get(table) ?? null
  if (from !== undefined && from !== (before && revisionOf(before))) throw new HookError('model/changed', { table })
  if (edit === null && !before) throw new HookError('project/unknown-table', { table, hint: '' })
  if (edit && edit.name !== table)
    throw new HookError('model/bad-edit', { table, detail: `the edit is of ${edit.name}, not of ${table}` })
  const file = before?.file ?? `tables/${table}.json`
  const files = new Map<string, string | null>()
  const renames = edit ? renamesOf(edit) : {}
  if (edit) {
    const names = new Set<string>()
    for (const { name, was } of edit.fields) {
      if (names.has(name)) throw new HookError('model/bad-edit', { table, field: name, detail: `two fields are named ${name}` })
      names.add(name)
      if (was !== null && !before?.fields.some((field) => field.name === was))
        throw new HookError('model/bad-edit', {
          table,
          field: was,
          detail: `there is no field ${was} to be changed: load the table again`,
        })
    }
    files.set(file, tableText(edit, project.files.get(file) ?? null))
    if (before)
      for (const [old, name] of Object.entries(renames))
        for (const [path, text] of renameFieldInCode({ ...project, files: withChanges(project.files, files) }, before, old, name))
          files.set(path, text)
  } else files.set(file, null)
  const kept = new Set(edit?.fields.map((field) => field.was))
  const removed = new Set(before?.fields.filter((field) => !kept.has(field.name)).map((field) => field.name))
  const next = edit ? parseTable(file, files.get(file)!) : null
  const changed = changedFields(before, next, renames, fills)
  const ofTable = new RegExp(`^(data|fixtures/[^/]+)/${table}\\.(csv|json)$`)
  for (const [path, text] of project.files) {
    if (!ofTable.test(path)) continue
    const written = edit ? rewriteRecords(path, text, { renames, removed, changed }) : null
    if (written !== text) files.set(path, written)
  }
  const all = withChanges(project.files, files)
  const after = parseProject(all, project)
  return {
    change: { before, after: after.tables.get(table) ?? null, renames, fills },
    files,
    project: after,
    ...(records && next ? recordsFrom(records.file, records.text, records.columns, next) : { records: [], altered: [] }),
  }
}

const stepOf = (before: Project, { project: after, change }: Made) => ({
  before,
  after,
  table: change.before,
  renames: change.renames,
})

/** Fields whose values in files of records become others. */
function changedFields(
  before: Table | null,
  after: Table | null,
  renames: Readonly<Record<string, string>>,
  fills: Readonly<Record<string, Value>>,
): FieldChanges['changed'] {
  const back = new Map(Object.entries(renames).map(([old, name]) => [name, old]))
  const kind = ({ type, format, enum: choices, link }: Field) => JSON.stringify([type, format, choices, link?.table])
  const changed = new Map<string, { field: Field; fill: Value; isNew: boolean }>()
  for (const field of (before && after?.fields) ?? []) {
    const old = before!.fields.find((each) => each.name === (back.get(field.name) ?? field.name))
    const fill = fills[field.name] ?? null
    if (!old || kind(old) !== kind(field) || fill !== null) changed.set(field.name, { field, fill, isNew: !old })
  }
  return changed
}

/**
 * @param code also look at what it means for the code, which takes longer
 * @param makeRuntime tells by throwing whether the hooks can be used with the changed tables
 */
export function planModel(
  project: Project,
  store: Store,
  edit: ModelEdit,
  makeRuntime: (files: ReadonlyMap<string, string>) => Runtime,
  code = true,
): ModelPlan {
  const steps: Step[] = []
  const now = project.tables.get(edit.table)
  const revision = now ? revisionOf(now) : null
  const blocked = (text: string, effect: Step['effect'] = 'blocked') =>
    steps.push({ table: edit.table, field: null, text, effect, records: 0, examples: [], wantsFill: false })
  let changed: Made
  try {
    changed = make(project, edit)
  } catch (error) {
    if (!(error instanceof HookError)) throw error
    if (error.code === 'model/changed') throw error
    for (const each of describeAll(error.report)) blocked(each)
    return { steps, files: [], revision }
  }
  steps.push(...planChange(store, changed.change))
  if (changed.records.length > 0)
    steps.push({
      table: edit.table,
      field: null,
      text: `${changed.records.length} records come in.`,
      effect: 'safe',
      records: changed.records.length,
      examples: [],
      wantsFill: false,
    })
  const tell = (field: string | null, text: string) =>
    steps.push({ table: edit.table, field, text, effect: 'safe', records: 0, examples: [], wantsFill: false })
  const oldText = project.files.get(changed.change.before?.file ?? '') ?? null
  for (const { set, without } of edit.edit ? lostSets(edit.edit, oldText) : [])
    tell(null, `${set.join(' and ')} are not unique together any more, since there is no field ${without}.`)
  const newText = changed.change.before === null && edit.edit ? changed.files.get(`tables/${edit.table}.json`) : null
  for (const { field, detail } of newText ? withoutEffect(newText) : []) tell(field, detail)
  for (const { field, records, from, to } of changed.altered)
    steps.push({
      table: edit.table,
      field,
      text: `${field}: ${records} ${records === 1 ? 'value is' : 'values are'} kept in another form, ${JSON.stringify(from)} as ${JSON.stringify(to)}.`,
      effect: 'safe',
      records,
      examples: [],
      wantsFill: false,
    })
  try {
    makeRuntime(changed.project.files)
    for (const each of code ? newErrors(project, changed.project) : [])
      blocked(`${each.file}, line ${each.line}: ${each.message}`, 'breaks')
    for (const { release, files, faults, breaks } of releasesAfter(stepOf(project, changed), releasesInUse(store), code)) {
      for (const each of faults)
        blocked(`Release ${nameOf(release)} could not run any more: ${each} Release a text first that can do without it.`)
      for (const each of breaks) blocked(`Release ${nameOf(release)} would break: ${each}`, 'breaks')
      if (files) tell(null, `Release ${nameOf(release)} is released again with it, with the new names in its code.`)
    }
  } catch (error) {
    if (!(error instanceof HookError)) throw error
    for (const each of describeAll(error.report)) blocked(each)
  }
  return { steps, files: [...changed.files.keys()], revision }
}

/**
 * @param accept that values are lost or code breaks, as the plan said
 * @throws HookError model/blocked or model/not-accepted, with the steps in its message; nothing is changed then
 */
export function changeModel(
  project: Project,
  store: Store,
  edit: ModelEdit,
  makeRuntime: (files: ReadonlyMap<string, string>) => Runtime,
  options: {
    accept: boolean
    user: string | undefined
    /** Keeps files and releases, within the transaction; gives what runs on saves from then on. */
    keep: (files: ReadonlyMap<string, string | null>, releases: readonly ReleaseAfter[], working: Runtime) => LiveCode
  },
): Runtime {
  const { steps } = planModel(project, store, edit, makeRuntime)
  const told = (effects: readonly Step['effect'][]) =>
    steps
      .filter((step) => effects.includes(step.effect))
      .map((step) => step.text)
      .join(' ')
  if (steps.some((step) => step.effect === 'blocked'))
    throw new HookError('model/blocked', { table: edit.table, detail: told(['blocked']) })
  if (!options.accept && steps.some((step) => step.effect !== 'safe'))
    throw new HookError('model/not-accepted', { table: edit.table, detail: told(['loses', 'breaks']) })
  const changed = make(project, edit)
  const runtime = makeRuntime(changed.project.files)
  const releases = releasesAfter(stepOf(project, changed), releasesInUse(store), false)
  store.withoutForeignKeys(() => {
    const { before, after, renames } = changed.change
    const history =
      before && after ? new ModelHistory(store, before.name, renames, options.user ?? project.users[0]?.name ?? 'owner') : null
    applyChange(store, changed.change, (was, now) => history?.note(was, now))
    history?.close()
    followTable(store, edit.table, after, renames)
    followFields(store, edit.table, renames)
    const broken = store.db.pragma('foreign_key_check') as unknown[]
    if (broken.length > 0)
      throw new HookError('model/blocked', {
        table: edit.table,
        detail: `${broken.length} records would link to records that are not there`,
      })
    const code = options.keep(changed.files, releases, runtime)
    if (changed.records.length > 0) {
      const inputs = changed.records.map((values) => ({ table: edit.table, values }))
      const { project: tables, program } = code.for(options.user)
      const { error } = trySave({ project: tables, program, store, switches: code.switches }, inputs, {
        keepIds: true,
        user: options.user,
      })
      if (error) throw new HookError(error)
    }
  })
  return runtime
}
