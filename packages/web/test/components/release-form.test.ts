import type { PluginReleases, ProjectInfo } from '@patient-hook/contract'
import { flushPromises } from '@vue/test-utils'
import { expect, test } from 'vitest'
import ReleaseForm from '../../src/views/release/ReleaseForm.vue'
import { useProject } from '../../src/stores/project'
import { mount } from './mount'

/** The button of a release says what it will do, and waits for what is missing. */

const plugin = {
  plugin: 'vault',
  releases: [],
  live: null,
  working: { files: [], hooks: [] },
  next: { patch: '1.0.1', minor: '1.1.0', major: '2.0.0' },
  stamps: { patch: 'a', minor: 'b', major: 'c' },
} as unknown as PluginReleases

async function mountForm(next: Partial<PluginReleases['next']> = {}) {
  const wrapper = mount(ReleaseForm, { props: { plugin: { ...plugin, next: { ...plugin.next, ...next } } } })
  const users = [
    { name: 'ada', title: 'Ada Fenn' },
    { name: 'ines', title: 'Ines Roe' },
  ]
  useProject().info = { users, tables: [], hooks: [], plugins: [] } as unknown as ProjectInfo
  await flushPromises()
  const button = () => wrapper.get('button[type=submit]')
  const choose = (label: string) =>
    wrapper
      .findAll('.v-selection-control')
      .find((each) => each.text().includes(label))!
      .get('input')
  return { wrapper, button, choose }
}

test('it names plugin, version and audience', async () => {
  const { wrapper, button, choose } = await mountForm()
  expect(button().text()).toBe('Release vault 1.0.1 to everyone')
  await choose('new feature').setValue()
  expect(button().text()).toBe('Release vault 1.1.0 to everyone')
  wrapper.unmount()
})

test('a pilot needs users', async () => {
  const { wrapper, button, choose } = await mountForm()
  await choose('Pilot users first').setValue()
  expect(button().text()).toBe('Release vault 1.0.1 to 0 pilot users')
  expect(button().attributes('disabled')).toBeDefined()
  await choose('Ines Roe').setValue(true)
  expect(button().text()).toBe('Release vault 1.0.1 to 1 pilot user')
  expect(button().attributes('disabled')).toBeUndefined()
  wrapper.unmount()
})

test('a first release has one version', async () => {
  const { wrapper } = await mountForm({ patch: '1.0.0', minor: '1.0.0', major: '1.0.0' })
  expect(wrapper.text()).toContain('First release: version 1.0.0')
  wrapper.unmount()
})
