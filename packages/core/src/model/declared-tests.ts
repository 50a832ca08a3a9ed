/** The part of `patient-hook/test` that is the same for every project: what a unit test is given, and what it expects. */
export const TEST_TYPES = `
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
  interface DescribeFunction {
    (name: string, body: () => void): void
    /** Its tests are skipped. */
    skip(name: string, body: () => void): void
  }
  export const describe: DescribeFunction
  /** Runs before each test of the describe, or the file, that contains it. */
  export function beforeEach(setup: TestBody): void

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
