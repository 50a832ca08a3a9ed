import { filesOf, hook, integer, link, number, text } from '../world.js'

/** A project whose model is changed: two tables, records, a fixture set and a hook. */

export const files = Object.fromEntries([
  ...filesOf({
    tables: {
      site: { fields: { name: text } },
      lot: {
        fields: {
          bay: { ...text, title: 'Bay' },
          status: { ...text, enum: ['drying', 'stored', 'gone'] },
          mass: number,
          site: link('site'),
          count: integer,
        },
      },
    },
    hooks: {
      caps: hook(
        `{ table: 'lot', moment: 'before-save', watch: ['bay'], each(row) { const { bay } = row.now; row.now.bay = bay?.toUpperCase() ?? null } }`,
      ),
    },
    fixtures: { base: { lot: [{ id: 1, bay: 'a', status: 'gone', count: 3 }] } },
  }),
  ['data/site.csv', 'id,name\n1,North\n2,"South, far"\n'],
  [
    'data/lot.csv',
    'id,bay,status,mass,site,count\n1,12,drying,1.5,1,1\n2,B7,stored,2,2,2\n3,,gone,,1,2\n4,"",gone,99.25,,\n5,7,drying,3,2,5\n',
  ],
])
