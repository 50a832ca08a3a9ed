import type { Place, RowOut } from '@patient-hook/contract'

/** Was the value written on that line? */
export const wroteOn = (change: RowOut['changes'][number] | undefined, line: Place | null): boolean =>
  change?.at !== undefined && line !== null && change.at.line === line.line && change.at.file === line.file
