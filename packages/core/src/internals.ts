/** For benchmarks and tools that run the save path in their own process; servers and commands use the hosts of engine/hosts. */
export { ENGINE_FLAGS } from './engine/protocol.js'
export { makeRuntime } from './engine/runtime.js'
export { Recorder } from './rehearse/recorder.js'
export { save, trySave, type SaveEnvironment } from './save/save.js'
export { Store } from './store/database.js'
export { loadRecords } from './store/records.js'
export { sealIntrinsics } from './sandbox/intrinsics.js'
export { runTests } from './prove/run-tests.js'
