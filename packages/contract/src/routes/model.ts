import { z } from 'zod'
import { route } from '../route.js'
import { inferred, modelEdit, modelPlan } from '../shapes/model-change.js'
import { projectChange } from '../shapes/project-change.js'
import { tableDraft } from '../shapes/tables.js'
import { LONGEST_RECORDS, name, user } from '../shapes/values.js'

/** Changes of the model: planned, then done; and tables read out of files. */

const source = z.strictObject({ name, file: z.string().max(300), text: z.string().max(LONGEST_RECORDS) })

export const modelRoutes = {
  planModel: route({
    method: 'POST',
    path: '/model/plan',
    summary: 'What a change of a table would do to records, fixtures and code.',
    body: modelEdit.extend({ code: z.boolean().default(true) }),
    answer: modelPlan,
  }),
  changeModel: route({
    method: 'POST',
    path: '/model/change',
    summary: 'Changes a table and moves its records, whole or not at all.',
    body: modelEdit.extend({ accept: z.boolean(), user: user.optional() }),
    answer: projectChange,
  }),
  inferTable: route({
    method: 'POST',
    path: '/model/infer',
    summary: 'A table read out of a CSV file.',
    body: source,
    answer: inferred,
  }),
  readSchema: route({
    method: 'POST',
    path: '/model/schema',
    summary: 'A table read out of a JSON Schema.',
    body: source,
    answer: tableDraft,
  }),
}
