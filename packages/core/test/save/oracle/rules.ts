import { hook } from '../../world.js'

/**
 * Each rule of the trade twice: as a hook, and as PL/pgSQL row triggers. The generator in programs.ts picks some of
 * them; names keep the order in which both engines run them (alphabetical: PostgreSQL by trigger name, ours by hook name).
 */
export interface Rule {
  name: string
  hook: string
  /** Statements that make the trigger and its function. */
  postgres: string
}

interface TriggerOptions {
  name: string
  table: 'parent' | 'child'
  when: 'BEFORE' | 'AFTER'
  events: string
  condition?: string
  declare?: string
  body: string
  returns?: 'NEW' | 'NULL' | 'COALESCE(NEW, OLD)'
  deferred?: boolean
}

function trigger({
  name,
  table,
  when,
  events,
  condition,
  declare = '',
  body,
  returns = when === 'BEFORE' ? 'NEW' : 'NULL',
  deferred,
}: TriggerOptions): string {
  const kind = deferred ? 'CREATE CONSTRAINT TRIGGER' : 'CREATE TRIGGER'
  return `
    CREATE FUNCTION f_${name}() RETURNS trigger LANGUAGE plpgsql AS $$ ${declare ? `DECLARE ${declare}` : ''} BEGIN ${body} RETURN ${returns}; END $$;
    ${kind} "${name}" ${when} ${events} ON ${table} ${deferred ? 'DEFERRABLE INITIALLY DEFERRED' : ''} FOR EACH ROW ${condition ? `WHEN (${condition})` : ''} EXECUTE FUNCTION f_${name}();`
}

const refuse = (name: string) => `RAISE EXCEPTION 'refuse:${name}';`

export const RULES: Record<string, (parameter: number) => Rule> = {
  /** Default when empty. */
  a_default: (n) => ({
    name: 'a_default',
    hook: hook(
      `{ table: 'child', moment: 'before-save', only: row => row.now.note === null, each(row) { row.now.note = 'n${n}' } }`,
    ),
    postgres: trigger({
      name: 'a_default',
      table: 'child',
      when: 'BEFORE',
      events: 'INSERT OR UPDATE',
      body: `IF NEW.note IS NULL THEN NEW.note := 'n${n}'; END IF;`,
    }),
  }),
  /** Copy from the linked record, when it is empty or always. */
  b_copy: (n) => {
    const always = n % 2 === 0
    return {
      name: 'b_copy',
      hook: hook(`{ table: 'child', moment: 'before-save', watch: ['parent'], load: ({ rows, store }) => store.byId('parent', rows.map(r => r.now.parent), ['rate']),
        each(row, parents) { ${always ? 'row.now.rate = parents.get(row.now.parent)?.rate ?? null' : 'row.now.rate ??= parents.get(row.now.parent)?.rate ?? null'} } }`),
      postgres: trigger({
        name: 'b_copy',
        table: 'child',
        when: 'BEFORE',
        events: 'INSERT OR UPDATE',
        body: `IF (TG_OP = 'INSERT' AND NEW.parent IS NOT NULL) OR (TG_OP = 'UPDATE' AND NEW.parent IS DISTINCT FROM OLD.parent) THEN
          ${always ? '' : 'IF NEW.rate IS NULL THEN'} NEW.rate := (SELECT rate FROM parent WHERE id = NEW.parent); ${always ? '' : 'END IF;'} END IF;`,
      }),
    }
  },
  /** Derive from own fields. */
  c_derive: (n) => ({
    name: 'c_derive',
    hook: hook(
      `{ table: 'child', moment: 'before-save', watch: ['qty', 'rate'], each(row) { const { qty, rate } = row.now; row.now.amount = qty === null || rate === null ? null : qty * rate + ${n} } }`,
    ),
    postgres: trigger({
      name: 'c_derive',
      table: 'child',
      when: 'BEFORE',
      events: 'INSERT OR UPDATE',
      body: `IF (TG_OP = 'INSERT' AND (NEW.qty IS NOT NULL OR NEW.rate IS NOT NULL)) OR (TG_OP = 'UPDATE' AND (NEW.qty IS DISTINCT FROM OLD.qty OR NEW.rate IS DISTINCT FROM OLD.rate)) THEN
        NEW.amount := NEW.qty * NEW.rate + ${n}; END IF;`,
    }),
  }),
  /** Validate. */
  d_refuse: (n) => ({
    name: 'd_refuse',
    hook: hook(
      `{ table: 'child', moment: 'before-save', each(row) { if (row.now.amount !== null && row.now.amount > ${20 + n * 8}) row.refuse('amount', 'too much') } }`,
    ),
    postgres: trigger({
      name: 'd_refuse',
      table: 'child',
      when: 'BEFORE',
      events: 'INSERT OR UPDATE',
      body: `IF NEW.amount > ${20 + n * 8} THEN ${refuse('d_refuse')} END IF;`,
    }),
  }),
  /** Act on from → to. */
  e_note: () => ({
    name: 'e_note',
    hook: hook(
      `{ table: 'child', moment: 'before-save', on: ['update'], watch: ['status'], each(row) { row.now.note = (row.was.status ?? '-') + '>' + (row.now.status ?? '-') } }`,
    ),
    postgres: trigger({
      name: 'e_note',
      table: 'child',
      when: 'BEFORE',
      events: 'UPDATE',
      condition: 'OLD.status IS DISTINCT FROM NEW.status',
      body: `NEW.note := coalesce(OLD.status, '-') || '>' || coalesce(NEW.status, '-');`,
    }),
  }),
  /** Become: act only when a condition starts to hold. */
  f_became: (n) => ({
    name: 'f_became',
    hook: hook(
      `{ table: 'parent', moment: 'before-save', only: row => row.became(p => p.rate !== null && p.rate > ${n}), each(row) { row.now.status = 'c' } }`,
    ),
    postgres: trigger({
      name: 'f_became',
      table: 'parent',
      when: 'BEFORE',
      events: 'INSERT OR UPDATE',
      body: `IF coalesce(NEW.rate > ${n}, false) AND (TG_OP = 'INSERT' OR NOT coalesce(OLD.rate > ${n}, false)) THEN NEW.status := 'c'; END IF;`,
    }),
  }),
  /** Write to all children of a changed parent: those that were looked up, or by a condition. */
  g_push: (n) => ({
    name: 'g_push',
    hook:
      n % 2 === 1
        ? hook(
            `{ table: 'parent', moment: 'after-save', on: ['update'], watch: ['rate'], each(row, _, { update }) { update('child', { parent: row.id }, { rate: row.now.rate }) } }`,
          )
        : hook(`{ table: 'parent', moment: 'after-save', on: ['update'], watch: ['rate'], load: ({ rows, store }) => store.children('child', 'parent', rows.map(r => r.id), []),
      each(row, children, { update }) { for (const child of children.get(row.id) ?? []) update('child', child.id, { rate: row.now.rate }) } }`),
    postgres: trigger({
      name: 'g_push',
      table: 'parent',
      when: 'AFTER',
      events: 'UPDATE',
      condition: 'OLD.rate IS DISTINCT FROM NEW.rate',
      body: `UPDATE child SET rate = NEW.rate WHERE parent = NEW.id AND rate IS DISTINCT FROM NEW.rate;`,
    }),
  }),
  /** Roll lines up into the header. */
  h_rollup: () => ({
    name: 'h_rollup',
    hook: hook(`{ table: 'child', moment: 'after-save', on: ['create', 'update', 'delete'],
      finish({ rows, store, update }) {
        const ids = new Set(rows.flatMap(r => [r.now?.parent, r.was?.parent]))
        const there = store.byId('parent', ids, [])
        for (const [id, sum] of store.rollup('child', 'parent', there.keys(), { count: true, sum: ['amount'] })) update('parent', id, { total: sum.sum.amount, n: sum.count })
      } }`),
    postgres: trigger({
      name: 'h_rollup',
      table: 'child',
      when: 'AFTER',
      events: 'INSERT OR UPDATE OR DELETE',
      declare: 'ids int[];',
      body: `IF TG_OP = 'UPDATE' AND OLD IS NOT DISTINCT FROM NEW THEN RETURN NULL; END IF;
        ids := ARRAY[CASE WHEN TG_OP <> 'DELETE' THEN NEW.parent END, CASE WHEN TG_OP <> 'INSERT' THEN OLD.parent END];
        UPDATE parent p SET total = s.total, n = s.n FROM (
          SELECT q.id, coalesce(sum(c.amount), 0)::int AS total, count(c.id)::int AS n FROM parent q LEFT JOIN child c ON c.parent = q.id WHERE q.id = ANY(ids) GROUP BY q.id) s
        WHERE p.id = s.id AND (p.total IS DISTINCT FROM s.total OR p.n IS DISTINCT FROM s.n);`,
    }),
  }),
  /** Propagate a value to all siblings but the record itself, in both ways. */
  i_siblings: (n) => ({
    name: 'i_siblings',
    hook:
      n % 2 === 1
        ? hook(
            `{ table: 'child', moment: 'after-save', on: ['update'], watch: ['status'], each(row, _, { update }) { if (row.now.parent !== null) update('child', { parent: row.now.parent, id: { not: row.id } }, { status: row.now.status }) } }`,
          )
        : hook(`{ table: 'child', moment: 'after-save', on: ['update'], watch: ['status'], load: ({ rows, store }) => store.children('child', 'parent', rows.map(r => r.now.parent), []),
      each(row, siblings, { update }) { for (const other of siblings.get(row.now.parent) ?? []) if (other.id !== row.id) update('child', other.id, { status: row.now.status }) } }`),
    postgres: trigger({
      name: 'i_siblings',
      table: 'child',
      when: 'AFTER',
      events: 'UPDATE',
      condition: 'OLD.status IS DISTINCT FROM NEW.status',
      body: `UPDATE child SET status = NEW.status WHERE parent = NEW.parent AND id <> NEW.id AND status IS DISTINCT FROM NEW.status;`,
    }),
  }),
  /** A check of the whole document, at the end of the transaction. */
  j_whole: (n) => ({
    name: 'j_whole',
    hook: hook(`{ table: 'parent', moment: 'before-commit', touchedBy: ['child.parent'], load: ({ rows, store }) => store.rollup('child', 'parent', rows.map(r => r.id), { sum: ['qty'] }),
      each(row, sums) { if ((sums.get(row.id)?.sum.qty ?? 0) > ${12 + n * 2}) row.refuse(null, 'too many in all') } }`),
    postgres: trigger({
      name: 'j_whole',
      table: 'child',
      when: 'AFTER',
      events: 'INSERT OR UPDATE OR DELETE',
      deferred: true,
      body: `IF EXISTS (SELECT 1 FROM child WHERE parent IN (CASE WHEN TG_OP <> 'DELETE' THEN NEW.parent END, CASE WHEN TG_OP <> 'INSERT' THEN OLD.parent END) GROUP BY parent HAVING sum(qty) > ${12 + n * 2}) THEN ${refuse('j_whole')} END IF;`,
    }),
  }),
  /** Refuse a delete. */
  k_keep: () => ({
    name: 'k_keep',
    hook: hook(
      `{ table: 'child', moment: 'before-save', on: ['delete'], each(row) { if (row.was.status === 'a') row.refuse(null, 'kept') } }`,
    ),
    postgres: trigger({
      name: 'k_keep',
      table: 'child',
      when: 'BEFORE',
      events: 'DELETE',
      returns: 'COALESCE(NEW, OLD)',
      body: `IF OLD.status = 'a' THEN ${refuse('k_keep')} END IF;`,
    }),
  }),
  /** Remove those of the children that a condition holds for. */
  l_drop: (n) => ({
    name: 'l_drop',
    hook: hook(
      `{ table: 'parent', moment: 'after-save', on: ['update'], only: row => row.became(p => p.status === 'b'), each(row, _, { remove }) { remove('child', { parent: row.id, qty: { lte: ${n} } }) } }`,
    ),
    postgres: trigger({
      name: 'l_drop',
      table: 'parent',
      when: 'AFTER',
      events: 'UPDATE',
      condition: `NEW.status = 'b' AND OLD.status IS DISTINCT FROM 'b'`,
      body: `DELETE FROM child WHERE parent = NEW.id AND qty <= ${n};`,
    }),
  }),
}
