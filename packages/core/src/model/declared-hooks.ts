/** The part of `patient-hook` that is the same for every project: what a hook is, and what it is given. */
export const HOOK_TYPES = `
  type TableName = keyof Tables
  type RecordOf<T extends TableName> = Tables[T]
  type FieldOf<T extends TableName> = Exclude<keyof Tables[T], 'id'> & string
  type Values<T extends TableName> = { [F in keyof Tables[T] as Exclude<F, 'id'>]?: Tables[T][F] | null }
  type Moment = 'before-save' | 'after-save' | 'before-commit'
  type EventName = 'create' | 'update' | 'delete'
  type Ids = readonly (number | null | undefined)[] | ReadonlySet<number | null | undefined> | MapIterator<number | null | undefined> | SetIterator<number | null | undefined>

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
    keys(): MapIterator<number>
    values(): MapIterator<R>
    entries(): MapIterator<[number, R]>
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
    /** Counts and sums of children, computed by the database. */
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
  /** A row of the save: create, update and delete are distinguished by \`event\`. */
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
    only?: (this: void, row: LoadRow<T, M, E>) => boolean
    /** Hooks of the same moment that must run first. */
    after?: readonly HookName[]
    /** Which ripples wake it: all (default), those that it did not cause itself, or none. */
    ripples?: M extends 'before-commit' ? never : 'all' | 'others' | 'none'
    touchedBy?: M extends 'before-commit' ? readonly TouchedBy[] : never
    /** Reads for the whole batch, once. */
    load?: (this: void, batch: { readonly rows: readonly LoadRow<T, M, E>[]; readonly store: Store; readonly user: UserName; readonly clock: string }) => L
    /** Once per row, with no store in reach. */
    each?: (this: void, row: RowFor<T, M, E>, loaded: L, context: Context<M>) => void
    /** Once per batch, in after-save. */
    finish?: M extends 'after-save'
      ? (this: void, batch: { readonly rows: readonly RowFor<T, M, E>[]; readonly loaded: L; readonly store: Store } & Context<'after-save'>) => void
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
