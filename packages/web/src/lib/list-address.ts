import type { ListQuery } from '@patient-hook/contract'
import type { LocationQuery } from 'vue-router'
import { whereIn } from './conditions'

/** Records a list shows, as written in a URL. */

export const addressOfList = ({ search, order, where, columns }: ListQuery): Record<string, string> => ({
  ...(search ? { search } : {}),
  ...(order ? { order } : {}),
  ...(Object.keys(where).length > 0 ? { where: JSON.stringify(where) } : {}),
  ...(columns ? { columns: columns.join(',') } : {}),
})

export function listInAddress(query: LocationQuery): ListQuery {
  const text = (name: string) => (typeof query[name] === 'string' ? query[name] : '')
  return {
    search: text('search'),
    order: text('order'),
    where: whereIn(text('where')),
    columns: text('columns') ? text('columns').split(',') : null,
  }
}
