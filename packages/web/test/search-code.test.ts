import { expect, test } from 'vitest'
import { MOST_MATCHES, replaceCode, searchCode } from '../src/language/search-code'

const files = {
  'plugins/a/hooks/one.ts': 'const Bay = 1\nuse(bay, bay)\n',
  'plugins/a/lib/two.ts': 'a.b()\naxb()\n',
  'plugins/b/hooks/three.ts': 'bay\n',
  'project.json': 'bay',
}
const query = (text: string, more = {}) => ({ text, matchCase: false, plugin: 'a', ...more })

test('every place in the code of the plugin is found, with its line', () => {
  expect(searchCode(files, query('bay')).map(({ file, line, start }) => [file, line, start])).toEqual([
    ['plugins/a/hooks/one.ts', 1, 6],
    ['plugins/a/hooks/one.ts', 2, 4],
    ['plugins/a/hooks/one.ts', 2, 9],
  ])
  expect(searchCode(files, query('bay', { matchCase: true }))).toHaveLength(2)
  expect(searchCode(files, query('bay', { plugin: null }))).toHaveLength(4)
  expect(searchCode(files, query(''))).toEqual([])
})

test('text is text: a dot is no pattern, and $& in a replacement is itself', () => {
  expect(searchCode(files, query('a.b'))).toHaveLength(1)
  expect(replaceCode(files, query('a.b'), '$&')).toEqual({ 'plugins/a/lib/two.ts': '$&()\naxb()\n' })
})

test('only files that change are given', () => {
  expect(Object.keys(replaceCode(files, query('bay', { plugin: null }), 'shelf'))).toEqual([
    'plugins/a/hooks/one.ts',
    'plugins/b/hooks/three.ts',
  ])
  expect(replaceCode(files, query('nothing'), 'x')).toEqual({})
})

test('the list of matches is bounded', () => {
  expect(searchCode({ 'plugins/a/lib/x.ts': 'x '.repeat(2000) }, query('x'))).toHaveLength(MOST_MATCHES)
})
