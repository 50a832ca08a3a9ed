export * from './types.js'
export * from './run.js'
export * from './uses.js'
export { RULES } from './rules/index.js'
