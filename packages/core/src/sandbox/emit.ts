import ts from '#typescript'

/** What TypeScript's own emitter makes of a module: where blanking its types is not enough (erase-types.ts, modules.ts). */

/** By which names the emitter writes them. */
export const EMITTED_NAMES = { exports: 'exports', require: 'require' }

/** @param text without syntax errors @returns CommonJS, and JSON of a source map to `text` */
export function emit(file: string, text: string): { text: string; map: string } {
  const { outputText, sourceMapText } = ts.transpileModule(text, {
    fileName: file,
    compilerOptions: {
      target: ts.ScriptTarget.ES2022,
      module: ts.ModuleKind.CommonJS,
      sourceMap: true,
      removeComments: true,
      esModuleInterop: true,
      importHelpers: false,
      verbatimModuleSyntax: false,
      isolatedModules: true,
    },
  })
  return { text: outputText.replace(/\n\/\/# sourceMappingURL=.*\s*$/, '\n'), map: sourceMapText! }
}
