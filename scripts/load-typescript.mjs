// Loads TypeScript once as the engines do, so that what V8 makes of it is kept before anybody waits for it (packages/core/typescript.mjs). Run by bundle-engines.mjs.
import ts from '../packages/core/typescript.mjs'

void ts.version
