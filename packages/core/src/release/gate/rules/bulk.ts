import type { GateRule } from '../rule.js'

/** Every property of the bulk proof holds of the plugin's hooks, or is accepted with a reason. */
export const bulk: GateRule = {
  what: 'bulk',
  needsLoading: true,
  look: ({ verdicts }) =>
    verdicts
      .filter(({ holds, accepted }) => !holds && !accepted)
      .map(({ hook, property, reason }) => `${hook}: ${property} does not hold: ${reason}`),
  says: ({ verdicts }) => {
    const accepted = verdicts.filter((verdict) => verdict.accepted).length
    return `${verdicts.length - accepted} properties hold${accepted > 0 ? `, ${accepted} accepted` : ''}`
  },
}
