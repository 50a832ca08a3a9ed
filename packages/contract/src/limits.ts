/** Limits and names that the core needs as values: a leaf that needs nothing. */

/** Longest name of a table, field, hook, user or fixture set that a request may carry, in characters. */
export const LONGEST_NAME = 200

/** Most rows of one save. */
export const MOST_ROWS = 100_000

/** Most rows of a CSV file that are saved, in one save. */
export const MOST_CSV_ROWS = 500_000

/** Most fields that a table may have: SQLite takes 2000 columns. */
export const MOST_FIELDS = 500

export const BUDGETS = ['queries', 'rowsRead', 'rowsWritten', 'steps', 'ripples', 'ms'] as const
