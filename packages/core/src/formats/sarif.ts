import { VERSION } from '@patient-hook/contract/version'

type Level = 'error' | 'warning' | 'hint'

/** What SARIF needs to know of a finding. */
export interface SarifFinding {
  rule: string
  severity: Level
  message: string
  file: string
  line: number
  column: number
  /** Offset in the text, from 0. */
  end: number
  fix: { title: string; edits: readonly { start: number; end: number; text: string }[] } | null
}
export interface SarifDiagnostic {
  file: string
  message: string
  code: number
  severity: 'error' | 'warning' | 'hint'
  line: number
  column: number
  endLine: number
  endColumn: number
}
export interface SarifRule {
  meta: { name: string; title: string; why: string; severity: Level }
}

/** Findings and type errors as SARIF 2.1.0 (OASIS). Files are named as they are in what is given; lines and columns count from 1, columns in UTF-16 units. */
export function toSarif(
  findings: readonly SarifFinding[],
  diagnostics: readonly SarifDiagnostic[],
  rules: readonly SarifRule[],
  texts: ReadonlyMap<string, string>,
): object {
  const placeAt = (file: string, offset: number) => {
    const before = (texts.get(file) ?? '').slice(0, offset).split('\n')
    return { line: before.length, column: before.at(-1)!.length + 1 }
  }
  const location = (file: string, region: object) => ({
    physicalLocation: { artifactLocation: { uri: encodeURI(file) }, region },
  })
  const fixes = ({ file, fix }: SarifFinding) =>
    fix === null
      ? {}
      : {
          fixes: [
            {
              description: { text: fix.title },
              artifactChanges: [
                {
                  artifactLocation: { uri: encodeURI(file) },
                  replacements: fix.edits.map((edit) => {
                    const [start, end] = [placeAt(file, edit.start), placeAt(file, edit.end)]
                    return {
                      deletedRegion: {
                        startLine: start.line,
                        startColumn: start.column,
                        endLine: end.line,
                        endColumn: end.column,
                      },
                      insertedContent: { text: edit.text },
                    }
                  }),
                },
              ],
            },
          ],
        }
  return {
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: {
          driver: {
            name: 'patient-hook',
            version: VERSION,
            rules: [
              ...rules.map(({ meta }) => ({
                id: meta.name,
                shortDescription: { text: meta.title },
                fullDescription: { text: meta.why },
                defaultConfiguration: { level: meta.severity === 'hint' ? 'note' : meta.severity },
              })),
              {
                id: 'types',
                shortDescription: { text: 'What the TypeScript compiler says' },
                defaultConfiguration: { level: 'error' },
              },
            ],
          },
        },
        columnKind: 'utf16CodeUnits',
        results: [
          ...diagnostics.map((each) => ({
            ruleId: 'types',
            level: each.severity === 'hint' ? 'note' : each.severity,
            message: { text: `${each.message} (TS${each.code})` },
            locations: [
              location(each.file, {
                startLine: each.line,
                startColumn: each.column,
                endLine: each.endLine,
                endColumn: each.endColumn,
              }),
            ],
          })),
          ...findings.map((each) => {
            const end = placeAt(each.file, each.end)
            return {
              ruleId: each.rule,
              level: each.severity === 'hint' ? 'note' : each.severity,
              message: { text: each.message },
              locations: [
                location(each.file, { startLine: each.line, startColumn: each.column, endLine: end.line, endColumn: end.column }),
              ],
              ...fixes(each),
            }
          }),
        ],
      },
    ],
  }
}
