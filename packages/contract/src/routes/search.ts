import { z } from 'zod'
import { route } from '../route.js'
import { listView } from '../shapes/list-views.js'
import { namedRecord } from '../shapes/records.js'

/** A search over what a project holds. */
export const searchRoutes = {
  search: route({
    method: 'GET',
    path: '/search',
    summary: 'Records of all tables by what people call them, or by id, and kept views of lists: the first of each.',
    query: z.object({ text: z.string().trim().min(1).max(200) }),
    answer: z.object({ records: z.array(namedRecord), views: z.array(listView.pick({ table: true, name: true, query: true })) }),
  }),
}
