import path from 'node:path'
import { MessageChannel, receiveMessageOnPort, Worker } from 'node:worker_threads'

export interface ReliefRun {
  readonly status: number
  readonly stdout: string
  readonly stderr: string
}

let thread: Worker | null = null

/** Longest that one run may take. Milliseconds. */
const LONGEST_MS = 120_000

/**
 * Runs the headless command as from a shell and waits for it, in a thread that has read it already: a process of its own would
 * read it anew for every run.
 */
export function reliefHere(...args: string[]): ReliefRun {
  if (!thread) {
    thread = new Worker(path.resolve('cli/testing/relief-thread.mjs'), { execArgv: [] })
    thread.unref()
  }
  const { port1, port2 } = new MessageChannel()
  const done = new Int32Array(new SharedArrayBuffer(4))
  thread.postMessage({ args, port: port2, done }, [port2])
  if (Atomics.wait(done, 0, 0, LONGEST_MS) === 'timed-out')
    throw new Error(`relief ${args.join(' ')} did not end`)
  const run = receiveMessageOnPort(port1)?.message as ReliefRun
  port1.close()
  return run
}
