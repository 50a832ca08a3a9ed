import { backfillRoutes } from './backfills.js'
import { backupRoutes } from './backups.js'
import { codeRoutes } from './code.js'
import { exchangeRoutes } from './exchange.js'
import { fixtureRoutes } from './fixtures.js'
import { functionRoutes } from './functions.js'
import { jobRoutes } from './jobs.js'
import { keyRoutes } from './keys.js'
import { listViewRoutes } from './list-views.js'
import { modelRoutes } from './model.js'
import { proofRoutes } from './proofs.js'
import { projectRoutes } from './project.js'
import { recordRoutes } from './records.js'
import { releaseRoutes } from './releases.js'
import { saveLogRoutes } from './save-log.js'
import { saveRoutes } from './saves.js'
import { searchRoutes } from './search.js'

/** Every route of the HTTP API, by name. A new group gets its own file, added here. */
export const ROUTES = {
  ...projectRoutes,
  ...modelRoutes,
  ...saveLogRoutes,
  ...saveRoutes,
  ...recordRoutes,
  ...listViewRoutes,
  ...searchRoutes,
  ...jobRoutes,
  ...proofRoutes,
  ...releaseRoutes,
  ...codeRoutes,
  ...keyRoutes,
  ...exchangeRoutes,
  ...backfillRoutes,
  ...backupRoutes,
  ...fixtureRoutes,
  ...functionRoutes,
}
export type RouteName = keyof typeof ROUTES
