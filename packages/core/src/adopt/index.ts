export { adopt, type Adoption } from './adopt.js'
export { readDataFolder } from './folder-source.js'
export { readSqlite } from './sqlite-source.js'
export type { AdoptionNote, Source } from './source.js'
