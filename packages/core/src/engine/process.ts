import { HookError, report } from '../errors.js'
import type { Call, HostOptions, Message } from './protocol.js'
import { ThreadHost } from './thread-host.js'

/**
 * The engine's process. A few ways to use up memory end the whole process and cannot be caught in a thread (an array of
 * 10^9 that is filled, say), so the engine has a process of its own, which tells every now and then what it is at.
 */

const send = (message: Message): void => {
  if (process.connected) process.send!(message)
}
const options = JSON.parse(process.argv[2] ?? '{}') as Required<HostOptions>
const host = new ThreadHost(options, (event, data) => send({ event, data }))
let going = 0
let beat: NodeJS.Timeout | null = null

process.on('message', (call: Call) => {
  going++
  beat ??= setInterval(() => send({ event: 'at-work', data: host.atWork('budget/memory', { limit: options.memoryMb }) }), 100)
  const answer =
    call.method === 'open'
      ? host.open(...(call.values as Parameters<ThreadHost['open']>)).then((info) => JSON.stringify(info))
      : host.callText(call.method, ...(call.values as never))
  void answer
    .then(
      (json) => send({ id: call.id, json }),
      (error: unknown) =>
        send({
          id: call.id,
          error: error instanceof HookError ? error.report : report('engine/stopped', { detail: String(error) }),
        }),
    )
    .finally(() => {
      if (--going > 0 || !beat) return
      clearInterval(beat)
      beat = null
    })
})
process.on('disconnect', () => process.exit(0))
