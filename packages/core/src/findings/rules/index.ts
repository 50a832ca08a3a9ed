import type { Rule } from '../types.js'
import { afterSaveOwnRecord } from './after-save-own-record.js'
import { clockOrChance } from './clock-or-chance.js'
import { emptyLinkCondition } from './empty-link-condition.js'
import { everyColumn } from './every-column.js'
import { firstOfMany } from './first-of-many.js'
import { guardFreezesCopy } from './guard-freezes-copy.js'
import { keptInModule } from './kept-in-module.js'
import { labelForName } from './label-for-name.js'
import { linkMayBeNull } from './link-may-be-null.js'
import { lookUpInLoop } from './look-up-in-loop.js'
import { mixedIds } from './mixed-ids.js'
import { namedOneByOne } from './named-one-by-one.js'
import { neverReached } from './never-reached.js'
import { neverRuns } from './never-runs.js'
import { noEffect } from './no-effect.js'
import { overwritesTyped } from './overwrites-typed.js'
import { readsBeforeSet } from './reads-before-set.js'
import { rippleCycle } from './ripple-cycle.js'
import { rollUpForgets } from './roll-up-forgets.js'
import { siblingNotItself } from './sibling-not-itself.js'
import { storeLeavesLoad } from './store-leaves-load.js'
import { twoWriters } from './two-writers.js'
import { unknownChoice } from './unknown-choice.js'
import { unusedWatch } from './unused-watch.js'
import { watchMissesInput } from './watch-misses-input.js'
import { zeroIsAValue } from './zero-is-a-value.js'

/** All rules, by name. */
export const RULES: readonly Rule[] = [
  afterSaveOwnRecord,
  clockOrChance,
  emptyLinkCondition,
  everyColumn,
  firstOfMany,
  guardFreezesCopy,
  keptInModule,
  labelForName,
  linkMayBeNull,
  lookUpInLoop,
  mixedIds,
  namedOneByOne,
  neverReached,
  neverRuns,
  noEffect,
  overwritesTyped,
  readsBeforeSet,
  rippleCycle,
  rollUpForgets,
  siblingNotItself,
  storeLeavesLoad,
  twoWriters,
  unknownChoice,
  unusedWatch,
  watchMissesInput,
  zeroIsAValue,
]
