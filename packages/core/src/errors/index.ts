import { CODE_ERRORS } from './code.js'
import { EXCHANGE_ERRORS } from './exchange.js'
import { MODEL_ERRORS } from './model.js'
import { PROJECT_ERRORS } from './project.js'
import { REHEARSE_ERRORS } from './rehearse.js'
import { RELEASE_ERRORS } from './release.js'
import { SAVE_ERRORS } from './save.js'
import { SERVER_ERRORS } from './server.js'
import { STORE_ERRORS } from './store.js'
import type { ErrorKind } from './kind.js'

/**
 * Every error the product can give: a stable code, what happened, what to do; a file for each part of the product.
 * docs/errors.md is made from it (scripts/make-docs.mjs), so a new error is documented by being added here.
 */
export const ERRORS = {
  ...PROJECT_ERRORS,
  ...CODE_ERRORS,
  ...SAVE_ERRORS,
  ...REHEARSE_ERRORS,
  ...MODEL_ERRORS,
  ...STORE_ERRORS,
  ...EXCHANGE_ERRORS,
  ...RELEASE_ERRORS,
  ...SERVER_ERRORS,
} as const satisfies Record<string, ErrorKind>

export type ErrorCode = keyof typeof ERRORS
