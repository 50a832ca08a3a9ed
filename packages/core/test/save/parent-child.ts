import { flag, link, number, text } from '../world.js'

/** A table and its lines, for tests of the save path. */
export const tables = {
  parent: { fields: { name: text, total: number, size: { type: 'string', enum: ['s', 'm', 'l'] } }, required: ['name'] },
  child: {
    fields: {
      parent: link('parent', 'cascade'),
      qty: { type: 'integer', minimum: 0 },
      note: text,
      ok: flag,
      code: { type: 'string', 'x-unique': true },
    },
  },
}
