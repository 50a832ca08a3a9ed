import { where } from '@patient-hook/contract'
import { HookError } from '@patient-hook/core'
import { parse } from './serve.js'

/** Conditions of a list, as JSON in the address. @throws HookError request/bad */
export function conditions(text: string | undefined): Record<string, unknown> {
  if (text === undefined || text === '') return {}
  let given: unknown
  try {
    given = JSON.parse(text)
  } catch {
    throw new HookError('request/bad', { detail: 'where: expected JSON, such as { "status": "stored" }' })
  }
  return parse(where, given, 'where')
}
