import { Pane, Splitpanes } from 'splitpanes'
import { h, nextTick } from 'vue'
import { beforeEach, expect, test } from 'vitest'
import SplitBox from '../../src/components/SplitBox.vue'
import { mount } from './mount'

/** Panes keep the sizes that somebody gave them. */

beforeEach(() => localStorage.clear())

const mountPanes = (name: string, count: number) =>
  mount(SplitBox, {
    props: { name },
    slots: { default: () => Array.from({ length: count }, () => h(Pane, { size: 100 / count }, () => 'content')) },
  })
const sizesIn = (wrapper: ReturnType<typeof mountPanes>) =>
  wrapper.findAllComponents(Pane).map((pane) => Number(pane.props('size')))
const move = (wrapper: ReturnType<typeof mountPanes>, payload: object) =>
  wrapper.findComponent(Splitpanes).vm.$emit('resized', payload)

test('sizes are remembered by name and by the number of panes', async () => {
  const first = mountPanes('work', 2)
  expect(sizesIn(first)).toEqual([50, 50])
  move(first, { event: new MouseEvent('mouseup'), index: 1, panes: [{ size: 30.04 }, { size: 69.96 }] })
  await nextTick()
  first.unmount()
  expect(sizesIn(mountPanes('work', 2))).toEqual([30, 70])
  expect(sizesIn(mountPanes('work', 4))).toEqual([25, 25, 25, 25])
  expect(sizesIn(mountPanes('other', 2))).toEqual([50, 50])
})

test('what opening a pane moves is not remembered', async () => {
  const first = mountPanes('work', 2)
  move(first, { panes: [{ size: 10 }, { size: 90 }] })
  await nextTick()
  first.unmount()
  expect(sizesIn(mountPanes('work', 2))).toEqual([50, 50])
})
