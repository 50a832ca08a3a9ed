import type { GateResult, GateRuleName } from '@patient-hook/contract'
import type { GateSettings } from '../../model/types.js'
import type { Evidence, GateRule } from './rule.js'
import { bulk } from './rules/bulk.js'
import { coverage } from './rules/coverage.js'
import { findings } from './rules/findings.js'
import { model } from './rules/model.js'
import { tests } from './rules/tests.js'
import { types } from './rules/types.js'

/** The rules of a release's gate, one at a time. */

/** In the order in which they are looked at. A new rule gets its own file, added here and to GATE_RULES of the contract. */
export const GATE: Readonly<Record<GateRuleName, GateRule>> = { model, types, findings, tests, coverage, bulk }

/** Troubles of one rule that are reported. */
const MOST = 10

export function lookAt(name: GateRuleName, evidence: Evidence, settings: GateSettings): GateResult {
  const rule = GATE[name]
  if (settings[name] === false) return { what: name, holds: true, detail: 'not asked for (gate in project.json)' }
  if ((rule.needsLoading && evidence.faults.length > 0) || (rule.needsFindings && evidence.findings === null))
    return { what: name, holds: false, detail: 'it could not be looked at: the text cannot be loaded' }
  const troubles = rule.look(evidence)
  const more = troubles.length > MOST ? [`and ${troubles.length - MOST} more`] : []
  const detail = troubles.length === 0 ? rule.says(evidence) : [...troubles.slice(0, MOST), ...more].join('\n')
  return { what: name, holds: troubles.length === 0, detail }
}
