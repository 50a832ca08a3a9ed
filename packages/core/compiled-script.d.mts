/** What a CommonJS file exports, of whose text V8's compiled form is kept under this name and version. */
export function runCompiled(file: string, text: string, name: string, version: string): unknown

/** Runs all of a program in one file. */
export function runBundle(file: string): void
