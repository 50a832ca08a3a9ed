import type { Field, Value } from '@patient-hook/contract'
import { flushPromises } from '@vue/test-utils'
import { describe, expect, test } from 'vitest'
import FieldInput from '../../src/components/fields/FieldInput.vue'
import { mount } from './mount'

/** The editor of each kind of field. */

const FIELD: Field = {
  name: 'note',
  label: 'Note',
  help: 'What the label says.',
  type: 'string',
  format: null,
  enum: null,
  link: null,
  required: false,
  unique: false,
  minimum: null,
  maximum: null,
  exclusiveMinimum: null,
  exclusiveMaximum: null,
  multipleOf: null,
  minLength: null,
  maxLength: null,
  pattern: null,
  default: null,
  index: false,
  group: null,
}
async function type(field: Partial<Field>, text: string, value: Value = null): Promise<Value> {
  const wrapper = mount(FieldInput, {
    props: { field: { ...FIELD, ...field }, label: undefined, errors: [], pending: undefined, modelValue: value },
  })
  await wrapper.get('input, textarea').setValue(text)
  await flushPromises()
  const emitted = wrapper.emitted('update:modelValue')?.at(-1)?.[0] as Value
  wrapper.unmount()
  return emitted
}

describe('what is typed', () => {
  test.each<[string, Partial<Field>, string, Value]>([
    ['text stays text', {}, '12', '12'],
    ['nothing is null', {}, '', null],
    ['a number is a number', { type: 'number' }, '1.5', 1.5],
    ['what is not a number stays, to be refused', { type: 'number' }, 'heavy', 'heavy'],
    ['a date stays ISO text', { format: 'date' }, '2026-05-01', '2026-05-01'],
    [
      'a moment with an offset is taken as it is',
      { format: 'date-time' },
      '2026-05-01T10:00:00+02:00',
      '2026-05-01T10:00:00+02:00',
    ],
    [
      'a moment without one is local time',
      { format: 'date-time' },
      '2026-05-01 10:00',
      new Date(2026, 4, 1, 10).toISOString().replace('.000Z', 'Z'),
    ],
    ['a day that the month does not have stays, to be refused', { format: 'date-time' }, '2026-02-30 10:00', '2026-02-30 10:00'],
    ['long text', { maxLength: 2000 }, 'two\nlines', 'two\nlines'],
  ])('%s', async (_, field, text, expected) => {
    expect(await type(field, text, text === '' ? 'before' : null)).toBe(expected)
  })
})

test('long text has several lines, short text has one', () => {
  const long = mount(FieldInput, {
    props: { field: { ...FIELD, maxLength: 2000 }, label: undefined, errors: [], pending: undefined, modelValue: null },
  })
  expect(long.find('textarea').exists()).toBe(true)
  long.unmount()
  const short = mount(FieldInput, {
    props: { field: { ...FIELD, maxLength: 20 }, label: undefined, errors: [], pending: undefined, modelValue: null },
  })
  expect(short.find('textarea').exists()).toBe(false)
  short.unmount()
})

test('what a hook would set, and a refusal, are at the field', async () => {
  const props = { field: FIELD, label: undefined, errors: ['× too long'], pending: undefined, modelValue: 'x' }
  const wrapper = mount(FieldInput, { props })
  expect(wrapper.text()).toContain('× too long')
  await wrapper.setProps({ errors: [], pending: { value: 'dry', by: 'lot-notes', overwrites: false } } as never)
  expect(wrapper.text()).toContain('set to dry by lot-notes')
  await wrapper.setProps({ pending: { value: 'dry', by: 'lot-notes', overwrites: true } } as never)
  expect(wrapper.text()).toContain('lot-notes replaces this with dry')
  wrapper.unmount()
})
