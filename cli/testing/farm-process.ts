import { spawn, type ChildProcess } from 'node:child_process'
import { readdirSync, readFileSync } from 'node:fs'
import path from 'node:path'

/** A process of the command that goes on until it is ended, and what is known of those that it began. */
export class FarmProcess {
  private constructor(
    private readonly child: ChildProcess,
    private readonly words: { all: string },
    private readonly over: Promise<unknown>,
  ) {}

  static begin(...args: string[]): FarmProcess {
    const child = spawn(process.execPath, [path.resolve('cli/relief.mjs'), ...args], {
      stdio: ['ignore', 'pipe', 'pipe'],
      env: { ...process.env, RELIEF_TOKEN: '' },
    })
    const words = { all: '' }
    const hear = (piece: Buffer) => void (words.all += piece.toString('utf8'))
    child.stdout.on('data', hear)
    child.stderr.on('data', hear)
    const over = new Promise((resolve) => child.once('exit', resolve))
    return new FarmProcess(child, words, over)
  }

  /** What it said so far. */
  get said(): string {
    return this.words.all
  }

  /** Waits until it says something. @throws {Error} where it ends, or never does. */
  async says(pattern: RegExp): Promise<string> {
    for (let waited = 0; waited < 60_000; waited += 50) {
      const found = pattern.exec(this.said)
      if (found) return found[0]
      if (this.child.exitCode !== null) break
      await new Promise((resolve) => setTimeout(resolve, 50))
    }
    throw new Error(`never said ${String(pattern)}, but: ${this.said}`)
  }

  /** All processes of the command that work in a store, whoever began them. */
  static ofStore(store: string): string[] {
    const pids = readdirSync('/proc').filter((name) => /^\d+$/.test(name))
    return pids.filter((pid) => {
      try {
        return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(store)
      } catch {
        return false
      }
    })
  }

  /** Processes that it began, and those that they began: the command as workers, or as what these do. */
  get below(): { readonly pid: number; readonly call: string }[] {
    const of = (pid: number): { readonly pid: number; readonly call: string }[] => {
      try {
        const own = readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8')
          .split(' ')
          .map(Number)
          .filter(Boolean)
        return own.flatMap((one) => {
          const call = readFileSync(`/proc/${one}/cmdline`, 'utf8').replaceAll('\0', ' ')
          return call.includes('own.main(') ? [{ pid: one, call }, ...of(one)] : of(one)
        })
      } catch {
        return []
      }
    }
    return this.child.pid === undefined ? [] : of(this.child.pid)
  }

  /** Ends it, as a machine does that is told to, or that loses its power. */
  async end(signal: 'SIGTERM' | 'SIGKILL' = 'SIGTERM'): Promise<void> {
    this.child.kill(signal)
    await this.over
  }
}
