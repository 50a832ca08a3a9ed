/** Every shortcut of the application, for the list that ? opens; those of views are added to it from the rail. */

export interface Shortcut {
  keys: string
  what: string
}
export const SHORTCUTS: readonly { where: string; shortcuts: readonly Shortcut[] }[] = [
  {
    where: 'Everywhere',
    shortcuts: [
      { keys: 'Ctrl+K', what: 'Find a hook, a table, a field or a record' },
      { keys: '?', what: 'Show this list' },
    ],
  },
  {
    where: 'In the code',
    shortcuts: [
      { keys: 'Ctrl+S', what: 'Save the changed files' },
      { keys: 'Ctrl+Enter', what: 'Run the sheet again' },
      { keys: 'Ctrl+Shift+Enter', what: 'Run the unit tests' },
      { keys: 'F12', what: 'Go to the definition of a name' },
      { keys: 'F2', what: 'Rename a name in the whole plugin' },
      { keys: 'Ctrl+Z, Ctrl+Y', what: 'Undo and redo' },
    ],
  },
  {
    where: 'In lists and forms',
    shortcuts: [
      { keys: 'Arrow keys', what: 'Move from cell to cell' },
      { keys: 'Enter', what: 'Edit a cell' },
      { keys: 'Esc', what: 'Leave a cell as it was' },
      { keys: 'Space', what: 'Choose a record; with Shift, all records in between' },
      { keys: 'Ctrl+Enter', what: 'Save the record of a form' },
    ],
  },
]
