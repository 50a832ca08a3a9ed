import type { Mutation } from '../mutation.js'
import { alwaysSet } from './always-set.js'
import { boundMoved } from './bound-moved.js'
import { droppedEffectCondition, droppedEffectValue } from './dropped-effect-part.js'
import { droppedFinish } from './dropped-finish.js'
import { droppedNullCheck } from './dropped-null-check.js'
import { droppedAfter, droppedGuard, droppedWatch, eventLess, watchedFieldLess } from './dropped-part.js'
import { droppedRefusal } from './dropped-refusal.js'
import { equality } from './equality.js'
import { firstForAll } from './first-for-all.js'
import { itselfAmongSiblings } from './itself-among-siblings.js'
import { numberMoved } from './number-moved.js'
import { otherField } from './other-field.js'
import { otherLink } from './other-link.js'
import { otherMoment } from './other-moment.js'
import { otherRollup } from './other-rollup.js'
import { otherRounding } from './other-rounding.js'
import { wasForNow } from './was-for-now.js'

export const MUTATIONS: readonly Mutation[] = [
  otherField,
  equality,
  wasForNow,
  droppedGuard,
  droppedWatch,
  watchedFieldLess,
  eventLess,
  droppedAfter,
  droppedNullCheck,
  droppedRefusal,
  droppedEffectValue,
  droppedEffectCondition,
  droppedFinish,
  otherRollup,
  alwaysSet,
  itselfAmongSiblings,
  otherLink,
  firstForAll,
  numberMoved,
  boundMoved,
  otherRounding,
  otherMoment,
]
