import type { Share } from '@patient-hook/contract'
import type { GateRule } from '../rule.js'

/** Of no hook do tests run a smaller share of statements or branches than of what is live; where a least share is asked for, that too. */
export const coverage: GateRule = {
  what: 'coverage',
  needsLoading: true,
  look: ({ coverage: now, before, least }) =>
    Object.entries(now).flatMap(([hook, shares]) => {
      const was = before?.coverage[hook]
      const fell = (['statements', 'branches'] as const).flatMap((kind) =>
        was && percent(shares[kind]) < percent(was[kind])
          ? [`${hook}: tests run ${shown(shares[kind])} of its ${kind}, and ran ${shown(was[kind])} in ${before!.version}`]
          : [],
      )
      const few =
        least !== null && percent(shares.statements) < least
          ? [`${hook}: tests run ${shown(shares.statements)} of its statements, and ${least} % are asked for`]
          : []
      return [...fell, ...few]
    }),
  says: ({ coverage: now, before }) => {
    const all = Object.values(now)
    const sum = (kind: 'statements' | 'branches') =>
      shown(
        all.reduce<Share>(
          (total, shares) => ({ covered: total.covered + shares[kind].covered, total: total.total + shares[kind].total }),
          { covered: 0, total: 0 },
        ),
      )
    const since = before ? `; it did not fall since ${before.version}` : '; there is no earlier release to compare with'
    return all.length === 0
      ? 'it has no hooks'
      : `tests run ${sum('statements')} of statements, ${sum('branches')} of branches${since}`
  },
}

const percent = ({ covered, total }: Share): number => (total === 0 ? 100 : (100 * covered) / total)
/** Never rounded up. */
const shown = (share: Share): string => `${Math.floor(percent(share))} %`
