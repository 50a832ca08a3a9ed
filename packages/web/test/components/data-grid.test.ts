import { flushPromises } from '@vue/test-utils'
import { beforeAll, describe, expect, test, vi } from 'vitest'
import { h } from 'vue'
import DataGrid from '../../src/components/grid/DataGrid.vue'
import type { GridColumn } from '../../src/components/grid/columns'
import { mount } from './mount'

/** The grid that every list of rows is shown in. */

const COLUMNS: GridColumn[] = [
  { key: 'id', title: 'id', heading: true },
  { key: 'name', title: 'Name', sortable: true },
  { key: 'mass', title: 'Mass', number: true, required: true },
]
const valueAt = (row: number, key: string) => (key === 'id' ? String(row + 1) : `${key} ${row + 1}`)

beforeAll(() => {
  // There is no layout here: a window of ten rows, each as high as the grid says.
  Object.defineProperty(Element.prototype, 'clientHeight', { configurable: true, get: () => 300 })
  Object.defineProperty(Element.prototype, 'clientWidth', { configurable: true, get: () => 400 })
  for (const [side, length] of [
    ['clientHeight', 300],
    ['clientWidth', 400],
  ] as const)
    Object.defineProperty(HTMLElement.prototype, side, { configurable: true, get: () => length })
  Object.defineProperty(document, 'fonts', { configurable: true, value: { ready: Promise.resolve() } })
})

async function grid(props: object = {}) {
  const wrapper = mount(DataGrid, {
    props: { label: 'Lots', columns: COLUMNS, count: 1000, cellText: valueAt, ...props },
    slots: { cell: ({ row, column }: { row: number; column: GridColumn }) => h('span', valueAt(row, column.key)) },
  })
  await vi.waitFor(() => expect(wrapper.find('[data-at]').exists()).toBe(true))
  return wrapper
}
const focused = () => document.activeElement?.textContent

describe('a grid', () => {
  test('draws only the rows in sight, and says how many there are', async () => {
    const wrapper = await grid()
    expect(wrapper.find('table').attributes('aria-rowcount')).toBe('1001')
    const rows = wrapper.findAll('tbody tr[aria-rowindex]')
    expect(rows.length).toBeGreaterThan(5)
    expect(rows.length).toBeLessThan(60)
    expect(rows[0]!.text()).toContain('name 1')
    wrapper.unmount()
  })
  test('keys go from cell to cell, and stop at the edges', async () => {
    const wrapper = await grid()
    await wrapper.find('[data-at]').trigger('keydown', { key: 'ArrowRight' })
    await flushPromises()
    expect(wrapper.emitted('update:at')!.at(-1)).toEqual([{ row: 0, column: 1 }])
    await wrapper.setProps({ at: { row: 0, column: 1 } })
    await wrapper.find('[data-at]').trigger('keydown', { key: 'ArrowDown' })
    await wrapper.setProps({ at: { row: 1, column: 1 } })
    await flushPromises()
    expect(focused()).toBe('name 2')
    await wrapper.find('[data-at]').trigger('keydown', { key: 'End' })
    expect(wrapper.emitted('update:at')!.at(-1)).toEqual([{ row: 1, column: 2 }])
    await wrapper.setProps({ at: { row: 0, column: 0 } })
    await wrapper.find('[data-at]').trigger('keydown', { key: 'ArrowUp' })
    expect(wrapper.emitted('update:at')!.at(-1)).toEqual([{ row: 0, column: 0 }])
    wrapper.unmount()
  })
  test('Shift selects several cells, and Ctrl+C copies them as a spreadsheet takes them', async () => {
    const wrapper = await grid({ ranged: true, at: { row: 1, column: 1 } })
    await wrapper.find('[data-at]').trigger('keydown', { key: 'ArrowRight', shiftKey: true })
    await wrapper.setProps({ at: { row: 1, column: 2 } })
    await wrapper.find('[data-at]').trigger('keydown', { key: 'ArrowDown', shiftKey: true })
    await wrapper.setProps({ at: { row: 2, column: 2 } })
    expect(wrapper.findAll('[aria-selected=true]').map((cell) => cell.text())).toEqual(['name 2', 'mass 2', 'name 3', 'mass 3'])
    const setData = vi.fn()
    await wrapper.find('[data-at]').trigger('copy', { clipboardData: { setData } })
    expect(setData.mock.calls[0]![1]).toMatch(/^name 2\tmass 2\r?\nname 3\tmass 3$/)
    wrapper.unmount()
  })
  test('a head sorts, with Shift within the order; others do not', async () => {
    const wrapper = await grid()
    await wrapper.get('thead button').trigger('click')
    await wrapper.get('thead button').trigger('click', { shiftKey: true })
    expect(wrapper.emitted('sort')).toEqual([
      ['name', false],
      ['name', true],
    ])
    expect(wrapper.findAll('thead button')).toHaveLength(1)
    wrapper.unmount()
  })
  test('other keys are the user’s, and all of them while a cell is edited', async () => {
    const wrapper = await grid()
    await wrapper.find('[data-at]').trigger('keydown', { key: 'F2' })
    expect(wrapper.emitted('key')).toHaveLength(1)
    await wrapper.setProps({ editing: true })
    await wrapper.find('[data-at]').trigger('keydown', { key: 'ArrowDown' })
    expect(wrapper.emitted('key')).toHaveLength(2)
    expect(wrapper.emitted('update:at')).toBeUndefined()
    wrapper.unmount()
  })
  test('a wrong cell says why', async () => {
    const wrapper = await grid({
      cellFault: (row: number, key: string) => (row === 0 && key === 'mass' ? 'too heavy' : undefined),
    })
    const wrong = wrapper.findAll('[aria-invalid=true]')
    expect(wrong).toHaveLength(1)
    expect(wrong[0]!.attributes('title')).toBe('too heavy')
    wrapper.unmount()
  })
})
