import { expect, test } from 'vitest'
import { CELL, watchedCells, watchWith } from '../src/watch.js'

/** The cells that the engine's thread shares with the one that watches it. */

test('are written by their index only: they inherit nothing that would be asked at each write', () => {
  const shared = new Int32Array(new SharedArrayBuffer(40))
  const watching = new Int32Array(shared.buffer)
  watchWith(shared)
  const cells = watchedCells()
  expect(Object.getPrototypeOf(cells)).toBeNull()
  cells[CELL.row] = 7
  // Another thread has its own view, which is one like any other.
  expect(watching[CELL.row]).toBe(7)
  expect(watching.length).toBe(10)
})
