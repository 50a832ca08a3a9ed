import { declarations } from './declarations.js'
import type { Project } from './types.js'

/** What any TypeScript editor needs beside a project's own files, to complete and check its hooks: not part of the project. */

/** The same options as in the app. Paths are those of the project's folder. */
const TSCONFIG = `{
  "compilerOptions": {
    "strict": true,
    "noUncheckedIndexedAccess": true,
    "target": "es2023",
    "lib": ["es2023"],
    "module": "esnext",
    "moduleResolution": "bundler",
    "noEmit": true,
    "skipLibCheck": true,
    "types": [],
    "allowImportingTsExtensions": true
  },
  "include": ["plugins/**/*.ts", "types/**/*.d.ts"]
}
`
export const TSCONFIG_FILE = 'tsconfig.json'
export const TYPES_FILE = 'types/patient-hook.d.ts'

/** Text by path: the declarations of tables, hooks and tests, and the options to check with. */
export const editorFiles = (project: Project): Map<string, string> =>
  new Map([
    [TYPES_FILE, `// Made by patient-hook types; it is made again by it when a table has changed.\n${declarations(project)}`],
    [TSCONFIG_FILE, TSCONFIG],
  ])
