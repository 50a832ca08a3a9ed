import {
  beginBackfill,
  beginRows,
  failBackfill,
  holdBackfill,
  planBackfill,
  stageRows,
  stepBackfill,
  undoBackfill,
} from './backfilling.js'
import { check } from './checking.js'
import { compileAhead, moduleNumbers } from './compiling.js'
import { planCode } from './code.js'
import { changeModel, inferTable, planModel, readSchema } from './model.js'
import { openDatabase, useFiles, warmUp, wasKept } from './opening.js'
import { giveUpMessage, outboxTried, outboxWaiting, retryMessage } from './outbox.js'
import { declarations, projectInfo, putFiles } from './project.js'
import { bulkAims, bulkProof, mutantAims, mutants } from './proving.js'
import { choicesTried, listTried, readLive, recordTried } from './reading.js'
import { fixtureCsv, makeFixtures, readFixtureCsv, readFixtures, takeFixtures, writeFixtures } from './fixtures.js'
import {
  hookHours,
  release,
  releaseCandidate,
  releaseFiles,
  releaseOverview,
  setAudience,
  stepBackTo,
  switchHook,
} from './releasing.js'
import { missingFields, readCsvColumns, readCsvRows, tryCsvRows } from './exchange.js'
import { callFunction, keepFunctionTest } from './functions.js'
import { keepTest } from './keeping.js'
import { givenSave, replaySaves, savesToReplay } from './replaying.js'
import { keepListView, removeListView } from './list-views.js'
import { keyUsed, makeKey, revokeKey } from './keys.js'
import { load, noteFailedSave, save, saveOnce, writeTally } from './saving.js'
import { coverageGround, testFiles, tests, testsAffected } from './testing.js'
import { rehearse, sheet } from './trying.js'
import type { Call } from './call.js'

/** Every call of an engine by its name. A new group gets its own file, added here. */
export const CALLS = {
  openDatabase,
  useFiles,
  warmUp,
  wasKept,
  projectInfo,
  declarations,
  moduleNumbers,
  compileAhead,
  putFiles,
  planModel,
  changeModel,
  inferTable,
  readSchema,
  save,
  saveOnce,
  noteFailedSave,
  writeTally,
  load,
  rehearse,
  keepTest,
  callFunction,
  keepFunctionTest,
  readLive,
  listTried,
  recordTried,
  choicesTried,
  savesToReplay,
  replaySaves,
  givenSave,
  planBackfill,
  beginBackfill,
  stageRows,
  beginRows,
  undoBackfill,
  holdBackfill,
  failBackfill,
  stepBackfill,
  sheet,
  tests,
  testFiles,
  coverageGround,
  testsAffected,
  bulkAims,
  bulkProof,
  mutantAims,
  mutants,
  readFixtures,
  writeFixtures,
  takeFixtures,
  makeFixtures,
  readFixtureCsv,
  fixtureCsv,
  check,
  outboxWaiting,
  outboxTried,
  retryMessage,
  giveUpMessage,
  planCode,
  makeKey,
  revokeKey,
  keepListView,
  removeListView,
  keyUsed,
  missingFields,
  readCsvColumns,
  readCsvRows,
  tryCsvRows,
  releaseOverview,
  releaseFiles,
  hookHours,
  releaseCandidate,
  release,
  setAudience,
  stepBackTo,
  switchHook,
}

export type CallName = keyof typeof CALLS
export type CallValues<N extends CallName> = (typeof CALLS)[N] extends Call<infer V, unknown> ? V : never
export type CallResult<N extends CallName> = (typeof CALLS)[N] extends Call<never[], infer R> ? R : never
