import { isExponential } from './ambiguity.js'
import type { TableRule } from './types.js'

export const slowPattern: TableRule = {
  meta: {
    name: 'slow-pattern',
    severity: 'error',
    title: 'A pattern that backtracks without end',
    why: 'A text that nearly matches is tried in more ways than there is time for: the save that brings it is stopped. Write the repeated part so it can match a text in one way only.',
  },
  examples: {
    pass: [
      { pattern: '^[A-Z]{2}-\\d{4}$' },
      { pattern: '^[^@]+@[^@]+\\.[a-z]+$' },
      { pattern: '^(?:[0-9a-f]{2}:){5}[0-9a-f]{2}$' },
      { pattern: '^\\s*\\S+\\s*$' },
      { pattern: '^([^,]*,)*$' },
      { pattern: '^(\\d{3}-)*\\d+$' },
      { pattern: '^\\p{L}+( \\p{L}+)*$' },
      { pattern: '^(\\+\\d{1,3} )?(\\d{2,4} ?){2,4}$' },
      { pattern: '^(?:(?:25[0-5]|2[0-4]\\d|1?\\d?\\d)(?:\\.(?!$)|$)){4}$' },
      { pattern: '^(?=.*\\d)(?=.*[a-z]).{8,}$' },
      { pattern: '^(a|b|c)*$' },
    ],
    fail: [
      { pattern: '^(a+)+$' },
      { pattern: '^(a|a)*$' },
      { pattern: '^(a*)*$' },
      { pattern: '^(\\d+|[a-z]+)*$' },
      { pattern: '(x+x+)+y' },
      { pattern: '^(([a-z])+.)+[A-Z]([a-z])+$' },
      { pattern: '^(\\w*\\s?)*$' },
      { pattern: '^(\\w+\\s?)*$' },
      { pattern: '^([a-zA-Z0-9])(([\\-.]|[_]+)?([a-zA-Z0-9]+))*(@){1}$' },
      { pattern: '^(a{1,3})*$' },
    ],
  },
  look: ({ pattern, name }, table) =>
    pattern !== null && isExponential(pattern)
      ? {
          keyword: 'pattern',
          message: `The pattern of ${table.name}.${name} repeats a part that can match one text in several ways: a text that nearly matches is tried without end`,
        }
      : null,
}
