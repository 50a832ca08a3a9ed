/** For benchmarks and tools that run the save path in their own process; hooks and servers use EngineHost. */
export { ENGINE_FLAGS } from './engine/protocol.js'
export { makeRuntime } from './engine/runtime.js'
export { save, trySave, type SaveEnvironment } from './save/save.js'
export { Store } from './store/database.js'
export { loadRecords } from './store/records.js'
