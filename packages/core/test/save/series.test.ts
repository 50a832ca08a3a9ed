import { expect, test } from 'vitest'
import { hook, text, World } from '../world.js'

/** Number series pass by what records have already in the unique field that they fill. */

const world = (batchSize = 500) =>
  new World({
    tables: {
      parcel: { fields: { number: { ...text, 'x-unique': true }, code: { ...text, 'x-unique': true }, word: text } },
      slip: { fields: { number: { ...text, 'x-unique': true } } },
    },
    hooks: {
      number: hook(`{ table: 'parcel', moment: 'before-save', on: ['create'], only: row => row.now.number === null,
        each(row, _, { next }) { row.now.number = next('parcel') } }`),
      slip: hook(`{ table: 'parcel', moment: 'after-save', on: ['create'], only: row => row.now.word === 'slip',
        each(row, _, { next, create }) { create('slip', { number: next('slip') }) } }`),
    },
    project: { batchSize, sequences: { parcel: { prefix: 'P', digits: 2, start: 1 }, slip: { prefix: 'S', digits: 1 } } },
  })
const numbers = (of: World, table = 'parcel') => of.all(table).map(({ number }) => number)

test('a number that a record has is passed by, in each create after it, too', () => {
  const post = world()
  post.put('parcel', { number: 'P01' }, { number: 'P03' }, { code: 'P02' })
  post.put('parcel', {}, {}, {})
  expect(numbers(post)).toEqual(['P01', 'P03', 'P02', 'P04', 'P05', 'P06'])
})

test('a number that is typed in the same save is passed by', () => {
  for (const size of [1, 2, 500]) {
    const post = world(size)
    post.put('parcel', { number: 'P02' }, {}, {}, { number: 'P04' })
    expect([...numbers(post)].sort()).toEqual(size === 1 ? ['P01', 'P02', 'P03', 'P04'] : ['P01', 'P02', 'P03', 'P04'])
    post.put('parcel', {})
    expect(numbers(post).at(-1)).toBe('P05')
  }
})

test('many that are taken are passed by, also where they grow longer', () => {
  const post = world()
  post.load(
    'parcel',
    Array.from({ length: 400 }, (_, at) => ({ id: at + 1, number: `P${String(at + 1).padStart(2, '0')}` })),
  )
  post.put('parcel', {}, {})
  expect(numbers(post).slice(-2)).toEqual(['P401', 'P402'])
})

test('the numbers of records that a hook makes are passed by as well', () => {
  const post = world()
  post.load('slip', [
    { id: 1, number: 'S0' },
    { id: 2, number: 'S1' },
  ])
  post.put('parcel', { word: 'slip' }, { word: 'slip' })
  expect(numbers(post, 'slip')).toEqual(['S0', 'S1', 'S2', 'S3'])
})

test('a value in another field of the record takes no number away', () => {
  const post = world()
  post.put('parcel', { code: 'P01', number: 'x' })
  post.put('parcel', {})
  expect(numbers(post).at(-1)).toBe('P01')
})
