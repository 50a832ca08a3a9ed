/** Moments as people read them: local time, stored as UTC. */

const two = (part: number): string => String(part).padStart(2, '0')

/** @param kept ISO 8601 with an offset @returns YYYY-MM-DD hh:mm[:ss] in local time; null where it is no moment */
export function localTime(kept: string): string | null {
  if (!/^\d{4}-\d\d-\d\dT.*(Z|[+-]\d\d:\d\d)$/i.test(kept)) return null
  const date = new Date(kept)
  if (Number.isNaN(date.getTime())) return null
  const day = `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`
  const seconds = date.getSeconds() === 0 ? '' : `:${two(date.getSeconds())}`
  return `${day} ${two(date.getHours())}:${two(date.getMinutes())}${seconds}`
}

/** @param text local time as it is typed, or ISO 8601 with an offset @returns what is kept; null where it cannot be read */
export function timeFromTyped(text: string): string | null {
  const trimmed = text.trim()
  if (/(Z|[+-]\d\d:\d\d)$/i.test(trimmed)) return trimmed
  const parts = /^(\d{4})-(\d\d)-(\d\d)[ T](\d\d):(\d\d)(?::(\d\d))?$/
    .exec(trimmed)
    ?.slice(1)
    .map((part) => Number(part ?? 0))
  if (!parts) return null
  const [year, month, day, hour, minute, second] = parts as [number, number, number, number, number, number]
  const date = new Date(year, month - 1, day, hour, minute, second)
  // A day that the month does not have is not another one.
  if (date.getMonth() !== month - 1 || date.getDate() !== day || date.getHours() !== hour) return null
  return date.toISOString().replace('.000Z', 'Z')
}

/** A moment to the minute, in local time. @param at ISO 8601 with an offset */
export const timeWord = (at: string): string => (localTime(at) ?? at).slice(0, 16)
