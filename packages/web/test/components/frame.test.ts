import { flushPromises } from '@vue/test-utils'
import { expect, test, vi } from 'vitest'
import ConfirmDialog from '../../src/components/frame/ConfirmDialog.vue'
import NoticeBar from '../../src/components/frame/NoticeBar.vue'
import { useConfirmation } from '../../src/stores/confirmation'
import { useNotices } from '../../src/stores/notices'
import { mount } from './mount'

/** What the frame shows around every view. */

const button = (name: string) => [...document.querySelectorAll('button')].find((each) => each.textContent?.trim() === name)!

test('a question names what goes; only its own button does it', async () => {
  const wrapper = mount(ConfirmDialog)
  const confirmation = useConfirmation()
  const question = { title: 'Revoke scale?', text: 'Programs lose access.', action: 'Revoke key' }
  const first = confirmation.ask(question)
  await flushPromises()
  expect(document.body.textContent).toContain('Programs lose access.')
  button('Cancel').click()
  expect(await first).toBe(false)
  const second = confirmation.ask(question)
  await flushPromises()
  button('Revoke key').click()
  expect(await second).toBe(true)
  wrapper.unmount()
})

test('a notice can be undone, and then goes', async () => {
  const wrapper = mount(NoticeBar)
  const notices = useNotices()
  const undo = vi.fn()
  notices.say('Deleted view', undo)
  notices.say('Saved')
  await flushPromises()
  expect(document.body.textContent).toContain('Deleted view')
  button('Undo').click()
  await flushPromises()
  expect(undo).toHaveBeenCalledOnce()
  expect(notices.all.map(({ text }) => text)).toEqual(['Saved'])
  wrapper.unmount()
})
