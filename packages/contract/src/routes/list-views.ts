import { z } from 'zod'
import { route } from '../route.js'
import { listQuery, listView, viewName } from '../shapes/list-views.js'
import { name, user } from '../shapes/values.js'

/** Views of lists, kept by name for everybody. */

const listViews = z.object({ views: z.array(listView) })

export const listViewRoutes = {
  listViews: route({
    method: 'GET',
    path: '/tables/:table/views',
    summary: 'The views of the table’s list that are kept by a name.',
    params: z.object({ table: name }),
    answer: listViews,
  }),
  keepListView: route({
    method: 'PUT',
    path: '/tables/:table/views/:view',
    summary: 'Keeps a view under a name; one that has it is replaced.',
    params: z.object({ table: name, view: viewName }),
    body: z.strictObject({ query: listQuery, user }),
    answer: listViews,
  }),
  removeListView: route({
    method: 'DELETE',
    path: '/tables/:table/views/:view',
    summary: 'Removes a view; the records stay.',
    params: z.object({ table: name, view: viewName }),
    answer: listViews,
  }),
}
