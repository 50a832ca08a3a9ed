import type { Field, Table } from '../model/types.js'
import { literal } from './hook-code.js'
import type { RecipeRequest } from './recipe.js'
import { sample } from './samples.js'

/** Writes a unit test line by line: it creates the records it needs and depends on no fixture set. */
export class TestCode {
  readonly #lines: string[] = []
  readonly #counts = new Map<string, number>()

  constructor(private readonly request: RecipeRequest) {}

  line(text: string): this {
    this.#lines.push(text)
    return this
  }

  table(name: string): Table {
    return this.request.model.tables.find((table) => table.name === name)!
  }

  /**
   * Adds a line that saves a new record, with values for required fields.
   * @param variable that holds it @param values code by field
   */
  record(variable: string, table: string, values: Readonly<Record<string, string>> = {}): this {
    const save = `save('${table}', ${this.values(table, values)})`
    return this.line(`const ${variable} = ${save}`)
  }

  /** The code of the values of a new record; records that it has to link to are made in lines before it. */
  values(table: string, values: Readonly<Record<string, string>> = {}): string {
    const all: Record<string, string> = {}
    const place = this.#counts.get(table) ?? 0
    this.#counts.set(table, place + 1)
    for (const field of this.table(table).fields) {
      const given = values[field.name]
      if (given !== undefined) all[field.name] = given
      else if (field.required) all[field.name] = this.value(field, place)
    }
    const code = Object.entries(all).map(([name, value]) => `${name}: ${value}`)
    return code.length === 0 ? '{}' : `{ ${code.join(', ')} }`
  }

  /** The code of the n-th value of a field; of a link, the id of a record that is made for it. */
  value(field: Field, n: number): string {
    if (!field.link) return literal(sample(field, n))
    const place = (this.#counts.get(field.link.table) ?? 0) + 1
    const variable = `${field.link.table}${place}`
    this.record(variable, field.link.table)
    return `${variable}.id`
  }

  /** The whole file. @param title what the test says @param uses of its argument, such as `save` */
  file(title: string, uses: readonly string[]): string {
    const body = this.#lines.map((line) => `  ${line}\n`).join('')
    return (
      `import { expect, test } from 'patient-hook/test'\n\n` +
      `test(${literal(title)}, { hooks: ['${this.request.hook}'] }, ({ ${uses.join(', ')} }) => {\n${body}})\n`
    )
  }
}
