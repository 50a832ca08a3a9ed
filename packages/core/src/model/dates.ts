/** Dates and times as texts: which there are, and the one form in which a date-time is kept. */

const DATE = /^(\d{4})-(\d\d)-(\d\d)$/

/** ISO 8601 calendar date, as RFC 3339 full-date. */
export function isDate(text: string): boolean {
  const parts = DATE.exec(text)
  if (!parts) return false
  const [year, month, day] = [Number(parts[1]), Number(parts[2]), Number(parts[3])]
  const leap = year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0)
  const days = [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31]
  return month >= 1 && month <= 12 && day >= 1 && day <= days[month - 1]!
}

/** Date and time with an offset, as RFC 3339 date-time: `T` between them, and a colon in the offset. */
export function isDateTime(text: string): boolean {
  const [date, time, more] = text.split(/t/i)
  if (date === undefined || time === undefined || more !== undefined || !isDate(date)) return false
  const parts = /^(\d\d):(\d\d):(\d\d(?:\.\d+)?)(z|([+-])(\d\d):(\d\d))$/i.exec(time)
  if (!parts) return false
  const [hour, minute, second] = [Number(parts[1]), Number(parts[2]), Number(parts[3])]
  const sign = parts[5] === '-' ? -1 : 1
  const [offsetHour, offsetMinute] = [Number(parts[6] ?? 0), Number(parts[7] ?? 0)]
  if (offsetHour > 23 || offsetMinute > 59) return false
  if (hour <= 23 && minute <= 59 && second < 60) return true
  const utcMinute = minute - offsetMinute * sign
  const utcHour = hour - offsetHour * sign - (utcMinute < 0 ? 1 : 0)
  return (utcHour === 23 || utcHour === -1) && (utcMinute === 59 || utcMinute === -1) && second < 61
}

const PARTS = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d):(\d\d)(?:\.(\d+))?(?:Z|([+-])(\d\d):(\d\d))$/i
const CANONICAL = /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d\d\dZ$/
const MINUTE = 60_000

/**
 * The form in which a date-time is kept: UTC, to the millisecond, as `YYYY-MM-DDThh:mm:ss.sssZ` (what Date's toISOString
 * gives). Then the order of the texts is the order in time, and one moment is one text.
 * @returns null where the text is not a date-time (RFC 3339), is finer than a millisecond, or leaves the years 0000 to 9999 in UTC
 */
export function utcText(text: string): string | null {
  if (!isDateTime(text)) return null
  if (CANONICAL.test(text)) return text
  const [, year, month, day, hour, minute, second, fraction = '', sign, offsetHour = '0', offsetMinute = '0'] = PARTS.exec(text)!
  if (/[^0]/.test(fraction.slice(3))) return null
  const offset = (Number(offsetHour) * 60 + Number(offsetMinute)) * (sign === '-' ? -1 : 1)
  const date = new Date(0)
  date.setUTCFullYear(Number(year), Number(month) - 1, Number(day))
  date.setTime(date.getTime() + (Number(hour) * 60 + Number(minute) - offset) * MINUTE)
  if (date.getUTCFullYear() < 0 || date.getUTCFullYear() > 9999) return null
  // A leap second (…:60) is not a time of a Date, so the seconds are put behind.
  return `${date.toISOString().slice(0, 17)}${second}.${fraction.slice(0, 3).padEnd(3, '0')}Z`
}
