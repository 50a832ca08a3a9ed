import type { Field, Project, Table } from './types.js'

/**
 * The TypeScript declarations of a project: `patient-hook` and `patient-hook/test`, typed by its tables, so that a wrong
 * field, type or enum value is an error while typing.
 */

function fieldType(field: Field): string {
  const base = field.enum
    ? field.enum.map((choice) => JSON.stringify(choice)).join(' | ')
    : { string: 'string', integer: 'number', number: 'number', boolean: 'boolean' }[field.type]
  return field.required ? base : `${base} | null`
}

function fieldDoc(field: Field): string {
  const parts = [field.label]
  if (field.link) parts.push(`Link to ${field.link.table}.`)
  if (field.format) parts.push(`ISO ${field.format}.`)
  if (field.help) parts.push(field.help)
  return `    /** ${parts.join(' — ').replace(/\*\//g, '* /')} */`
}

function tableType(table: Table): string {
  const fields = table.fields.flatMap((field) => [fieldDoc(field), `    ${field.name}: ${fieldType(field)}`])
  const links = table.fields.filter((field) => field.link).map((field) => `${field.name}: '${field.link!.table}'`)
  return [
    `  /** ${table.label}${table.help ? ' — ' + table.help.replace(/\*\//g, '* /') : ''} */`,
    `  interface ${typeName(table.name)} {`,
    '    /** The record’s id, given by the save. */',
    '    readonly id: number',
    ...fields,
    '  }',
    `  interface ${typeName(table.name)}Links { ${links.join('; ')} }`,
  ].join('\n')
}

const typeName = (table: string) => `T_${table}`
const union = (names: Iterable<string>) => [...names].map((name) => JSON.stringify(name)).join(' | ') || 'never'

/** The text of one `.d.ts` file for the project. */
export function declarations(project: Project): string {
  const tables = [...project.tables.values()]
  const hooks = [...project.plugins.values()].flatMap((plugin) => plugin.hooks.map((hook) => hook.name))
  return `declare module 'patient-hook' {
${tables.map(tableType).join('\n')}
  interface Tables { ${tables.map((table) => `${table.name}: ${typeName(table.name)}`).join('; ')} }
  interface Links { ${tables.map((table) => `${table.name}: ${typeName(table.name)}Links`).join('; ')} }
  type SequenceName = ${union(project.sequences.keys())}
  type UserName = ${project.users.length ? union(project.users.map((user) => user.name)) + ' | (string & {})' : 'string'}
  type HookName = ${hooks.length ? union(hooks) + ' | (string & {})' : 'string'}
  type FixtureSet = ${union(project.fixtures.keys())}
${SHARED}
}
declare module 'patient-hook/test' {
  import type { Changes, FixtureSet, HookName, RecordOf, TableName, UserName, Values, Where } from 'patient-hook'
${TESTING}
}
`
}

const SHARED = `
  type TableName = keyof Tables
  type RecordOf<T extends TableName> = Tables[T]
  type FieldOf<T extends TableName> = Exclude<keyof Tables[T], 'id'> & string
  type Values<T extends TableName> = { [F in keyof Tables[T] as Exclude<F, 'id'>]?: Tables[T][F] | null }
  type Moment = 'before-save' | 'after-save' | 'before-commit'
  type EventName = 'create' | 'update' | 'delete'
  type Ids = Iterable<number | null | undefined>

  interface Changes<T extends TableName> {
    readonly field: FieldOf<T>
    readonly from: string | number | boolean | null
    readonly to: string | number | boolean | null
  }

  /** Found records by id; asking for null or an unknown id gives undefined. */
  interface ById<R> extends Iterable<[number, R]> {
    get(id: number | null | undefined): R | undefined
    has(id: number | null | undefined): boolean
    readonly size: number
    keys(): IterableIterator<number>
    values(): IterableIterator<R>
    entries(): IterableIterator<[number, R]>
    forEach(each: (record: R, id: number) => void): void
  }

  type Condition<V> = V | null | {
    eq?: V | null
    not?: V | null
    in?: readonly (V | null)[]
    lt?: V
    lte?: V
    gt?: V
    gte?: V
    /** SQL LIKE: % for any text, _ for one character. */
    like?: string
    /** true: the field is null or empty text. */
    empty?: boolean
  }
  type Where<T extends TableName> = { [F in keyof Tables[T]]?: Condition<NonNullable<Tables[T][F]>> }
  type OrderBy<T extends TableName> = (keyof Tables[T] & string) | \`-\${keyof Tables[T] & string}\`

  type Picked<T extends TableName, F extends keyof Tables[T]> = Readonly<Pick<Tables[T], F | ('id' & keyof Tables[T])>>

  /** Reads of this transaction. Only in load and finish, once for the whole batch. */
  interface Store {
    /** The records with these ids; null and duplicates are ignored. */
    byId<T extends TableName, const F extends FieldOf<T> | 'id' = FieldOf<T>>(table: T, ids: Ids, fields?: readonly F[]): ById<Picked<T, F>>
    /** The records whose link holds one of these ids, by that id. */
    children<T extends TableName, const F extends FieldOf<T> | 'id' = FieldOf<T>>(table: T, link: keyof Links[T] & string, ids: Ids, fields?: readonly F[]): ById<readonly Picked<T, F>[]>
    /** The records that meet all conditions, by id unless orderBy says otherwise (-field for falling). */
    find<T extends TableName, const F extends FieldOf<T> | 'id' = FieldOf<T>>(
      table: T,
      where: Where<T>,
      options?: { fields?: readonly F[]; orderBy?: OrderBy<T> | readonly OrderBy<T>[]; limit?: number },
    ): readonly Picked<T, F>[]
    /** Counts and sums of children, worked out by the database. */
    rollup<T extends TableName, const S extends FieldOf<T> = never, const A extends FieldOf<T> = never, const B extends FieldOf<T> = never>(
      table: T,
      link: keyof Links[T] & string,
      ids: Ids,
      what: { count?: boolean; sum?: readonly S[]; min?: readonly A[]; max?: readonly B[] },
    ): ById<{
      readonly count: number
      readonly sum: { readonly [F in S]: number }
      readonly min: { readonly [F in A]: Tables[T][F] | null }
      readonly max: { readonly [F in B]: Tables[T][F] | null }
    }>
  }

  interface Effects {
    /** Asks for a change of a record, or of all that a condition holds for as this batch has written them; saved as a ripple after it. */
    update<T extends TableName>(table: T, which: number | Where<T>, values: Values<T>): void
    create<T extends TableName>(table: T, values: Values<T>): void
    /** Asks for a record to be removed, or all that a condition holds for. */
    remove<T extends TableName>(table: T, which: number | Where<T>): void
    /** A message for the outbox, delivered only after the save is kept. */
    send(channel: string, message: unknown): void
  }

  interface BaseContext {
    /** The time of the save: ISO date and time, the same for the whole save. */
    readonly clock: string
    readonly user: UserName
    log(...values: unknown[]): void
    /** The next number of a sequence, with prefix and digits. */
    next(sequence: SequenceName): string
  }
  type Context<M extends Moment> = M extends 'after-save' ? BaseContext & Effects : BaseContext

  interface RowBase<T extends TableName, M extends Moment, R> {
    readonly id: number
    /** The record this one was copied from, or null. */
    readonly copiedFrom: number | null
    /** Has any of these fields another value than before the save? On create: has it a value? */
    changed(...fields: FieldOf<T>[]): boolean
    readonly changes: readonly Changes<T>[]
    /** True when the predicate did not hold before the save and holds now. */
    became(predicate: (record: Readonly<RecordOf<T>>) => boolean): boolean
    refuse: M extends 'after-save' ? never : (field: FieldOf<T> | null, message: string) => void
    /** Only there to carry the type. */
    readonly __record?: R
  }
  type NowOf<T extends TableName, M extends Moment> = M extends 'before-save'
    ? RecordOf<T>
    : Readonly<RecordOf<T>>
  type RowFor<T extends TableName, M extends Moment, E extends EventName> = E extends 'delete'
    ? RowBase<T, M, null> & { readonly event: 'delete'; readonly now: null; readonly was: Readonly<RecordOf<T>> }
    : E extends 'create'
      ? RowBase<T, M, T> & { readonly event: 'create'; readonly now: NowOf<T, M>; readonly was: null }
      : RowBase<T, M, T> & { readonly event: 'update'; readonly now: NowOf<T, M>; readonly was: Readonly<RecordOf<T>> }
  /** A row of the save: create, update and delete are told apart by \`event\`. */
  type Row<T extends TableName, M extends Moment = 'before-save', E extends EventName = 'create' | 'update'> = RowFor<T, M, E>
  type LoadRow<T extends TableName, M extends Moment, E extends EventName> = RowFor<T, M extends 'before-save' ? 'before-commit' : M, E>

  type TouchedBy = { [C in keyof Links]: \`\${C & string}.\${keyof Links[C] & string}\` }[keyof Links]

  interface HookDefinition<T extends TableName, M extends Moment, E extends EventName, L> {
    table: T
    moment: M
    /** Default: create and update. */
    on?: readonly E[]
    /** The fields whose change wakes the hook; on create a field counts when it has a value. */
    watch?: readonly FieldOf<T>[]
    /** A pure guard: the hook runs for a row only when it is true. */
    only?: (row: LoadRow<T, M, E>) => boolean
    /** Hooks of the same moment that must run first. */
    after?: readonly HookName[]
    /** Which ripples wake it: all (default), those that it did not cause itself, or none. */
    ripples?: M extends 'before-commit' ? never : 'all' | 'others' | 'none'
    touchedBy?: M extends 'before-commit' ? readonly TouchedBy[] : never
    /** Reads for the whole batch, once. */
    load?: (batch: { readonly rows: readonly LoadRow<T, M, E>[]; readonly store: Store; readonly user: UserName; readonly clock: string }) => L
    /** Once per row, with no store in reach. */
    each?: (row: RowFor<T, M, E>, loaded: L, context: Context<M>) => void
    /** Once per batch, in after-save. */
    finish?: M extends 'after-save'
      ? (batch: { readonly rows: readonly RowFor<T, M, E>[]; readonly loaded: L; readonly store: Store } & Context<'after-save'>) => void
      : never
  }
  interface Hook { readonly table: TableName; readonly moment: Moment }

  export function defineHook<
    const T extends TableName,
    const M extends Moment,
    const E extends EventName = 'create' | 'update',
    L = undefined,
  >(definition: HookDefinition<T, M, E, L>): Hook

  export type { BaseContext, Changes, Condition, Context, Effects, EventName, FieldOf, FixtureSet, Hook, HookName, Links, Moment, RecordOf, Row, Store, TableName, Tables, UserName, Values, Where }`

const TESTING = `
  interface Refusal { table: TableName; row: number; id: number | null; field: string | null; message: string; hook: string | null; code: string; others: readonly Refusal[] }
  interface Spent { queries: number; rowsRead: number; rowsWritten: number; steps: number; ripples: number; ms: number }
  interface HistoryEntry {
    save: number
    at: string
    user: string
    event: 'create' | 'update' | 'delete'
    depth: number
    /** RFC 6902 JSON Patch. */
    patch: readonly { op: string; path: string; value?: unknown }[]
    changes: readonly { field: string; from: unknown; to: unknown; by: string }[]
  }
  interface Ref { readonly ref: string }
  type Input<T extends TableName> = { [F in keyof Values<T>]?: Values<T>[F] | Ref } & { id?: number }
  type DocumentRow = { [T in TableName]: { table: T; values: Input<T>; as?: string } }[TableName]
  interface Kept<R> extends Array<R> { readonly kept: readonly R[]; readonly refused: readonly Refusal[] }

  interface TestApi {
    /** Saves one record (with id: updates it) and gives it as it stands afterwards. */
    save<T extends TableName>(table: T, values: Values<T> & { id?: number }): RecordOf<T>
    saveMany<T extends TableName>(table: T, rows: readonly (Values<T> & { id?: number })[]): RecordOf<T>[]
    saveMany<T extends TableName>(table: T, rows: readonly (Values<T> & { id?: number })[], options: { partial?: boolean }): Kept<RecordOf<T>>
    /** A document: header and lines in one save; ref(as) links to a row of it. With partial, whole documents are kept or refused. */
    saveAll(rows: readonly DocumentRow[]): any[]
    saveAll(rows: readonly DocumentRow[], options: { partial?: boolean }): Kept<any>
    ref(as: string): any
    copy<T extends TableName>(table: T, id: number, values?: Values<T>): RecordOf<T>
    remove(table: TableName, id: number): void
    get<T extends TableName>(table: T, id: number): RecordOf<T> | null
    rows<T extends TableName>(table: T, where?: Where<T>): RecordOf<T>[]
    /** The refusal that the function causes; without one the test fails. */
    refusal(attempt: () => unknown): Refusal
    /** From here on, saves are this user's; with a function: within it only. */
    as(user: UserName): TestApi
    as<R>(user: UserName, within: () => R): R
    /** The time of saves; with a text: from here on that time. */
    clock: (time?: string) => string
    /** The payloads sent on a channel, oldest first. */
    sent(channel: string): any[]
    /** For how many rows the hook ran in this test. */
    ran(hook: HookName): number
    /** What the last save spent. */
    spent(): Spent
    history(table: TableName, id: number): HistoryEntry[]
  }
  interface TestOptions { fixtures?: FixtureSet; user?: UserName; clock?: string; hooks?: readonly HookName[] }
  type TestBody = (api: TestApi) => void
  interface TestFunction {
    (name: string, body: TestBody): void
    (name: string, options: TestOptions, body: TestBody): void
    each<C extends readonly [unknown, ...unknown[]]>(cases: readonly C[]): {
      (name: string, body: (...values: [...C, TestApi]) => void): void
      (name: string, options: TestOptions, body: (...values: [...C, TestApi]) => void): void
    }
    each<const C>(cases: readonly C[]): {
      (name: string, body: (item: C, api: TestApi) => void): void
      (name: string, options: TestOptions, body: (item: C, api: TestApi) => void): void
    }
    skip(name: string, ...rest: unknown[]): void
    /** While it stands there, the other tests of the file are skipped. */
    only(name: string, body: TestBody): void
    only(name: string, options: TestOptions, body: TestBody): void
  }
  export const test: TestFunction
  export function describe(name: string, body: () => void): void

  /** What a record or a list of them is compared with: its fields by name, each with any value or matcher. */
  type Loose<T> = T extends readonly (infer R)[] ? readonly Loose<R>[] : T extends object ? { [K in keyof T]?: unknown } : unknown
  interface Matchers<T> {
    not: Matchers<T>
    toBe(expected: unknown): void
    toEqual(expected: Loose<NonNullable<T>> | null | undefined): void
    toStrictEqual(expected: unknown): void
    toMatchObject(expected: Loose<NonNullable<T>>): void
    toBeNull(): void
    toBeUndefined(): void
    toBeDefined(): void
    toBeTruthy(): void
    toBeFalsy(): void
    toBeNaN(): void
    toBeCloseTo(expected: number, digits?: number): void
    toBeGreaterThan(expected: number): void
    toBeGreaterThanOrEqual(expected: number): void
    toBeLessThan(expected: number): void
    toBeLessThanOrEqual(expected: number): void
    toContain(item: unknown): void
    toContainEqual(item: unknown): void
    toHaveLength(length: number): void
    toHaveProperty(path: string | readonly string[], value?: unknown): void
    toMatch(pattern: string | RegExp): void
    toThrow(expected?: string | RegExp): void
  }
  interface Expect {
    <T>(actual: T): Matchers<T>
    anything(): any
    any(constructor: unknown): any
    arrayContaining(items: readonly unknown[]): any
    objectContaining(values: object): any
    stringContaining(text: string): any
    stringMatching(pattern: string | RegExp): any
    closeTo(value: number, digits?: number): any
  }
  export const expect: Expect
  export type { HistoryEntry, Refusal, Spent, TestApi, TestOptions }`
