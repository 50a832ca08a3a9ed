import { describe, expect, test } from 'vitest'
import { ERRORS, HookError, report, type ErrorCode } from '../src/errors.js'

/** The table of errors: every placeholder is filled, every error says what to do, and nobody changes one that was made. */

const codes = Object.entries(ERRORS) as [ErrorCode, { message: string; todo: string; status: number }][]
const placeholders = (text: string) => [...text.matchAll(/\{(\w+)\}/g)].map((match) => match[1]!)

describe.each(codes)('%s', (code, { message, todo, status }) => {
  test('is filled whole, and says what to do', () => {
    const details = Object.fromEntries(placeholders(message + todo).map((name) => [name, `<${name}>`]))
    const made = (report as (code: ErrorCode, details: object) => ReturnType<typeof report>)(code, details)
    for (const name of placeholders(message)) expect(made.message).toContain(`<${name}>`)
    expect(made.message).not.toMatch(/\{\w+\}|undefined/)
    expect(made.todo).not.toMatch(/\{\w+\}/)
    expect(todo.length).toBeGreaterThan(5)
    expect(status).toBeGreaterThanOrEqual(400)
  })
})

test('what is put into a text is cut to what people read', () => {
  const long = 'x'.repeat(100_000)
  const { message, field } = report('save/unknown-field', { table: 't', field: long, hint: '' })
  expect(message.length).toBeLessThan(400)
  expect(field!.length).toBeLessThan(400)
})

test('an error cannot be changed, and what looks like one is none', () => {
  const error = new HookError('engine/closed')
  expect(() => Object.assign(error.report, { code: 'store/locked' })).toThrow()
  expect(() => Object.assign(error, { report: {} })).toThrow()
  expect(HookError.is(error)).toBe(true)
  expect(HookError.is(Object.create(HookError.prototype))).toBe(false)
  expect(HookError.is(new Proxy(error, {}))).toBe(false)
})
