import type { HookInfo, Table } from '@patient-hook/contract'
import { expect, test } from 'vitest'
import type { Outline } from '../../src/language/protocol'
import DefinitionPanel from '../../src/views/write/DefinitionPanel.vue'
import { mount } from './mount'

/** The panel shows what the code says; a change of it is a change of the code, so it asks for one. */

const field = (name: string, label: string) => ({ name, label, help: '' })
const table = { name: 'lot', label: 'Lot', fields: [field('bay', 'Bay'), field('gross', 'Gross mass (g)')] } as unknown as Table
const hook = { name: 'lot-bay', table: 'lot', moment: 'before-save', plugin: 'vault' } as unknown as HookInfo
const outline = (definition: Partial<Outline['definition']> = {}): Outline => ({
  definition: {
    table: 'lot',
    moment: 'before-save',
    on: ['create', 'update'],
    watch: ['bay'],
    after: [],
    ripples: 'all',
    parts: [],
    computed: [],
    ...definition,
  },
  reads: [],
  writes: [],
})
const mountPanel = (definition?: Partial<Outline['definition']>) =>
  mount(DefinitionPanel, {
    props: { hook, table, outline: outline(definition), reading: false },
    global: { stubs: { HookPlace: true } },
  } as object)
const box = (wrapper: ReturnType<typeof mountPanel>, label: string) => wrapper.get(`input[aria-label="${label}"]`)

test('a field is added to and taken from the watch list', async () => {
  const wrapper = mountPanel()
  await box(wrapper, 'Watch gross').setValue(true)
  await box(wrapper, 'Watch bay').setValue(false)
  expect(wrapper.emitted('change')).toEqual([
    ['watch', ['bay', 'gross']],
    ['watch', []],
  ])
  wrapper.unmount()
})

test('a watched field that the table lacks is named, and can be removed', async () => {
  const wrapper = mountPanel({ watch: ['bay', 'gone'] })
  const unknown = wrapper.findAll('.refused').find((each) => each.text().includes('gone (no such field)'))!
  await unknown.get('input').setValue(false)
  expect(wrapper.emitted('change')).toEqual([['watch', ['bay']]])
  wrapper.unmount()
})

test('events keep their order, and the last one stays', async () => {
  const wrapper = mountPanel({ on: ['update'] })
  const events = wrapper.findAll('fieldset').find((each) => each.text().includes('Events'))!
  const [create, update, remove] = events.findAll('input')
  await remove!.setValue(true)
  await create!.setValue(true)
  await update!.setValue(false)
  expect(wrapper.emitted('change')).toEqual([
    ['on', ['update', 'delete']],
    ['on', ['create', 'update']],
  ])
  wrapper.unmount()
})

test('what the code computes cannot be changed here, and the panel says so', () => {
  const wrapper = mountPanel({ computed: ['watch'] })
  const watch = wrapper.findAll('fieldset').find((each) => each.text().includes('Watch'))!
  expect(watch.attributes('disabled')).toBeDefined()
  expect(wrapper.text()).toContain('watch: computed in code. Edit the code to change it.')
  wrapper.unmount()
})
