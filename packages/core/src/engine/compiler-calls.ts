import { MessageChannel, receiveMessageOnPort, type MessagePort } from 'node:worker_threads'
import type { Compiler, Faulty } from '../language/compiler.js'
import { faultyFiles } from '../language/native-compiler.js'
import type { CompilerCall, FromThread } from './protocol.js'

/**
 * The engine’s thread does one thing after the other; the one that watches it runs the compiler beside it, and wakes it when the answer is there.
 */

/** For the engine’s thread. */
export function compilerBeyond(thread: MessagePort): Compiler {
  return (ground) => {
    const { port1: mine, port2: port } = new MessageChannel()
    const answered = new Int32Array(new SharedArrayBuffer(4))
    const message: FromThread = { compile: { ground, port, answered } }
    thread.postMessage(message, [port])
    return () => {
      Atomics.wait(answered, 0, 0)
      const answer = receiveMessageOnPort(mine) as { message: Faulty } | undefined
      mine.close()
      return answer?.message ?? null
    }
  }
}

/** For the thread that watches it. */
export async function compileFor({ ground, port, answered }: CompilerCall): Promise<void> {
  port.postMessage(await faultyFiles(ground).catch(() => null))
  Atomics.store(answered, 0, 1)
  Atomics.notify(answered, 0)
}
