import { randomUUID } from 'node:crypto'
import type { Migration } from './types.js'

export const answersAndTries: Migration = {
  number: 2,
  what: 'a save knows the call that asked for it, a message why it failed; history by save; a vault has its own name',
  apply: (db) => {
    db.exec(`
ALTER TABLE ph_save ADD COLUMN token TEXT;
ALTER TABLE ph_outbox ADD COLUMN failure TEXT;
CREATE INDEX ph_history_save ON ph_history (save);
DROP INDEX ph_outbox_waiting;
CREATE INDEX ph_outbox_waiting ON ph_outbox (id) WHERE delivered IS NULL;
`)
    db.prepare(`INSERT INTO ph_meta (key, value) VALUES ('database', ?)`).run(randomUUID())
  },
}
