import type { Recipe } from './recipe.js'
import { checkDocument } from './recipes/check-document.js'
import { cleanUpOnDelete } from './recipes/clean-up-on-delete.js'
import { clearOnCopy } from './recipes/clear-on-copy.js'
import { copyFromParent } from './recipes/copy-from-parent.js'
import { defaultWhenEmpty } from './recipes/default-when-empty.js'
import { deriveOnCreate } from './recipes/derive-on-create.js'
import { notifyOnChange } from './recipes/notify-on-change.js'
import { number } from './recipes/number.js'
import { pushToChildren } from './recipes/push-to-children.js'
import { rollUp } from './recipes/roll-up.js'
import { shareWithSiblings } from './recipes/share-with-siblings.js'
import { validate } from './recipes/validate.js'

/** Every recipe, in the order in which they are offered. A new one is a file in recipes/ and a line here. */
export const RECIPES: readonly Recipe[] = [
  deriveOnCreate,
  copyFromParent,
  defaultWhenEmpty,
  pushToChildren,
  shareWithSiblings,
  rollUp,
  number,
  validate,
  checkDocument,
  notifyOnChange,
  clearOnCopy,
  cleanUpOnDelete,
]

export { answerProblem, choicesFor, type Choice } from './answers.js'
export type { Answers, Recipe, RecipeContext, RecipeInput, RecipeModel, RecipeRequest } from './recipe.js'
