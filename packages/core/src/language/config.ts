/** How code is checked, as a tsconfig.json says it: by the service and by the compiler. */
export const CONFIG = {
  strict: true,
  noUncheckedIndexedAccess: true,
  target: 'es2023',
  lib: ['es2023'],
  module: 'esnext',
  moduleResolution: 'bundler',
  noEmit: true,
  skipLibCheck: true,
  types: [],
  allowImportingTsExtensions: true,
}
