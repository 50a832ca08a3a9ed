import * as estree from 'prettier/plugins/estree'
import * as typescript from 'prettier/plugins/typescript'
import { format } from 'prettier/standalone'
import { answerCalls } from '../lib/worker-calls'

/** The formatter, in the style of the demo. */

const methods = {
  format: (text: string): Promise<string> =>
    format(text, {
      parser: 'typescript',
      plugins: [typescript, estree as never],
      semi: false,
      singleQuote: true,
      printWidth: 100,
      trailingComma: 'all',
    }),
}
export type FormatMethods = typeof methods

// V8 compiles what formatting takes before anybody waits for it.
void methods.format('export default defineHook({ table: "t", each(row) { row.now.a ??= `${row.now.b}` } })')

answerCalls(methods)
