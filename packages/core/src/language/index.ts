export * from './service.js'
export * from './definition.js'
export * from './navigate.js'
export * from './functions.js'
