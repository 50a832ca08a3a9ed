import type { GateRule } from '../rule.js'

/** The text can be loaded among what is live: its tables and fields are there, and no other plugin has a hook of the same name. */
export const model: GateRule = {
  what: 'model',
  needsLoading: false,
  look: ({ faults }) => [...faults],
  says: () => 'every hook finds its table and its fields',
}
