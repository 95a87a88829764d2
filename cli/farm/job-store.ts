import { randomUUID } from 'node:crypto'
import { existsSync } from 'node:fs'
import { mkdir, readdir, readFile, rename, rm, stat, utimes, writeFile } from 'node:fs/promises'
import path from 'node:path'
import { z } from 'zod'
import { writeWhole } from '../write-file'
import { jobSchema, type AskedJob, type Job } from './job-request'

/** A share of a job; share 0 joins the others. */
export interface Task {
  readonly job: string
  readonly share: number
}

export const taskName = ({ job, share }: Task): string => `${job}-${share}`

/** How far a share is, and what it took. */
const shareStateSchema = z.object({
  /** 0…1. */
  progress: z.number(),
  rays: z.number(),
  /** How often it was begun, and how often it failed. */
  starts: z.number().int(),
  failures: z.number().int(),
  /** Of the work that finished it. */
  seconds: z.number(),
  done: z.boolean(),
})
export type ShareState = z.infer<typeof shareStateSchema>
const NOT_BEGUN: ShareState = { progress: 0, rays: 0, starts: 0, failures: 0, seconds: 0, done: false }

const failureSchema = z.object({ error: z.string(), share: z.number().int() })

export interface ResultFile {
  readonly name: string
  readonly bytes: number
}

/** A frame of a turntable, whole as soon as it bears its name. */
const FRAME = /^frame_\d+\.(png|exr)$/

export interface JobState {
  readonly state: 'waiting' | 'running' | 'done' | 'failed'
  /** 0…1. */
  readonly progress: number
  readonly rays: number
  readonly error: string | null
  readonly files: readonly ResultFile[]
  /** When its first share was begun; milliseconds since 1970. */
  readonly begun: number | null
  /** From then to its result; null before that is there. */
  readonly seconds: number | null
}

const isMissing = (error: unknown): boolean =>
  error instanceof Error && 'code' in error && (error.code === 'ENOENT' || error.code === 'ENOTDIR')

/**
 * Jobs in a folder, which is all that is known of them: a queue says only who does what next, and may be lost.
 *
 *     jobs/ID/job.json        what is asked
 *     jobs/ID/files/          what was sent
 *     jobs/ID/shares/K.json   how far share K is
 *     jobs/ID/shares/K/       what it made so far
 *     jobs/ID/made/           the result, under way
 *     jobs/ID/result/         the result, whole
 *     jobs/ID/failed.json     why there is none
 */
export class JobStore {
  constructor(readonly folder: string) {}

  async open(): Promise<void> {
    await mkdir(this.at('jobs'), { recursive: true })
    // What was cut off while it came in or went out.
    for (const name of ['incoming', 'trash']) {
      await rm(this.at(name), { recursive: true, force: true })
      await mkdir(this.at(name), { recursive: true })
    }
  }

  at(...names: string[]): string {
    return path.join(this.folder, ...names)
  }

  of(id: string, ...names: string[]): string {
    return this.at('jobs', id, ...names)
  }

  async ids(): Promise<string[]> {
    const names = await readdir(this.at('jobs'))
    return names.filter((name) => jobSchema.shape.id.safeParse(name).success)
  }

  /** Takes a job in, whole or not at all. @returns whether it is new. */
  async add({ job, files }: AskedJob): Promise<boolean> {
    if (existsSync(this.of(job.id))) return false
    const own = this.at('incoming', randomUUID())
    try {
      for (const { name, bytes } of files) {
        const file = path.join(own, 'files', name)
        await mkdir(path.dirname(file), { recursive: true })
        await writeFile(file, bytes)
      }
      await mkdir(path.join(own, 'shares'), { recursive: true })
      await writeFile(path.join(own, 'job.json'), JSON.stringify(job))
      await rename(own, this.of(job.id))
      return true
    } catch (error) {
      await rm(own, { recursive: true, force: true })
      // Sent twice at once, the other one was first.
      if (existsSync(this.of(job.id, 'job.json'))) return false
      throw error
    }
  }

  /** Null where there is none, or where it was taken away. */
  async job(id: string): Promise<Job | null> {
    if (!jobSchema.shape.id.safeParse(id).success) return null
    try {
      return jobSchema.parse(JSON.parse(await readFile(this.of(id, 'job.json'), 'utf8')))
    } catch (error) {
      if (isMissing(error)) return null
      throw error
    }
  }

  /** Takes a job away with all that belongs to it. @returns whether there was one. */
  async remove(id: string): Promise<boolean> {
    const gone = this.at('trash', randomUUID())
    try {
      await rename(this.of(id), gone)
    } catch (error) {
      if (isMissing(error)) return false
      throw error
    }
    // Who still works in it gives up when its job is gone; what it wrote meanwhile goes as well.
    await rm(gone, { recursive: true, force: true, maxRetries: 3 })
    return true
  }

  async share({ job, share }: Task): Promise<ShareState> {
    try {
      return shareStateSchema.parse(
        JSON.parse(await readFile(this.of(job, 'shares', `${share}.json`), 'utf8')),
      )
    } catch (error) {
      if (isMissing(error)) return NOT_BEGUN
      throw error
    }
  }

  async noteShare({ job, share }: Task, state: ShareState): Promise<void> {
    // Nothing is written of a job that was taken away.
    if (existsSync(this.of(job, 'job.json')))
      await writeWhole(this.of(job, 'shares', `${share}.json`), JSON.stringify(state))
  }

  /** Says that a job cannot be done. */
  async fail({ job, share }: Task, error: string): Promise<void> {
    if (existsSync(this.of(job, 'job.json')))
      await writeWhole(this.of(job, 'failed.json'), JSON.stringify({ error, share }))
  }

  /** Lets a job that failed be tried anew. */
  async retry(id: string): Promise<void> {
    for (const name of await readdir(this.of(id, 'shares'))) {
      if (!name.endsWith('.json')) continue
      const task = { job: id, share: Number(name.replace('.json', '')) }
      const state = await this.share(task)
      if (!state.done) await this.noteShare(task, NOT_BEGUN)
    }
    await rm(this.of(id, 'failed.json'), { force: true })
  }

  /** Puts a whole result in its place. */
  async finish(id: string): Promise<void> {
    if (existsSync(this.of(id, 'result'))) return
    try {
      await rename(this.of(id, 'made'), this.of(id, 'result'))
    } catch (error) {
      if (!existsSync(this.of(id, 'result'))) throw error
    }
    // Of shares only the counts are of use now.
    for (const name of await readdir(this.of(id, 'shares')))
      if (!name.endsWith('.json')) await rm(this.of(id, 'shares', name), { recursive: true, force: true })
  }

  /** Shares that are still to be done, as far as they can be: the one that joins only after all others. */
  async tasks(job: Job): Promise<Task[]> {
    const { id, shards } = job
    if (existsSync(this.of(id, 'result')) || existsSync(this.of(id, 'failed.json'))) return []
    const numbers = Array.from({ length: shards }, (_, i) => i + 1)
    const states = await Promise.all(numbers.map((share) => this.share({ job: id, share })))
    const open = numbers.filter((_, i) => !states[i].done)
    return (open.length > 0 ? open : [0]).map((share) => ({ job: id, share }))
  }

  async state(job: Job): Promise<JobState> {
    const { id, shards } = job
    const begun = await stat(this.of(id, 'begun')).then(
      ({ mtimeMs }) => mtimeMs,
      () => null,
    )
    const numbers = Array.from({ length: shards + 1 }, (_, i) => i)
    const states = await Promise.all(numbers.map((share) => this.share({ job: id, share })))
    const rays = states.reduce((sum, own) => sum + own.rays, 0)
    const common = { rays, begun, seconds: null, error: null }
    if (existsSync(this.of(id, 'result'))) {
      // When the last file came into it.
      const { mtimeMs } = await stat(this.of(id, 'result'))
      const seconds = begun === null ? null : (mtimeMs - begun) / 1000
      return {
        ...common,
        seconds,
        state: 'done',
        progress: 1,
        files: await filesBelow(this.of(id, 'result')),
      }
    }
    const failure = await readFile(this.of(id, 'failed.json'), 'utf8').catch(() => null)
    const own = states.slice(1)
    const progress =
      own.reduce((sum, { progress: share }) => sum + share, 0) /
      (own.length + (job.isShared ? 0.02 * own.length : 0))
    if (failure !== null) {
      const { error } = failureSchema.parse(JSON.parse(failure))
      return { ...common, state: 'failed', progress, error, files: [] }
    }
    return {
      ...common,
      state: begun === null ? 'waiting' : 'running',
      progress,
      files: await this.soFar(job),
    }
  }

  /** Notes that a job is being worked on. */
  async begin(id: string): Promise<void> {
    await writeFile(this.of(id, 'begun'), '', { flag: 'wx' }).catch(() => undefined)
  }

  /** Notes that a result was asked for: those that nobody wants go first. */
  async touch(id: string): Promise<void> {
    const now = new Date()
    await utimes(this.of(id, 'job.json'), now, now).catch(() => undefined)
  }

  /** Frames that are there already while others are still made. */
  private async soFar({ id, command, out, shards }: Job): Promise<ResultFile[]> {
    if (command !== 'turn' || out !== null) return []
    const found = await Promise.all(
      Array.from({ length: shards }, (_, i) =>
        filesBelow(this.of(id, 'shares', String(i + 1))).catch(() => []),
      ),
    )
    return found.flat().filter(({ name }) => FRAME.test(name))
  }

  /** A file of a result, or a frame that is there before it; null where there is none of that name. */
  async result(id: string, name: string): Promise<{ readonly file: string; readonly bytes: number } | null> {
    const job = await this.job(id)
    if (!job) return null
    for (let share = 1; FRAME.test(name) && job.command === 'turn' && share <= job.shards; share++) {
      const file = this.of(id, 'shares', String(share), name)
      const there = await stat(file).catch(() => null)
      if (there) return { file, bytes: there.size }
    }
    const found = (await filesBelow(this.of(id, 'result')).catch(() => [])).find((own) => own.name === name)
    return found ? { file: this.of(id, 'result', ...name.split('/')), bytes: found.bytes } : null
  }

  /** Bytes of a job with all that belongs to it. */
  async bytes(id: string): Promise<number> {
    const files = await filesBelow(this.of(id)).catch(() => [])
    return files.reduce((sum, { bytes }) => sum + bytes, 0)
  }

  /** When a job was last of use. Milliseconds since 1970. */
  lastUse(id: string): Promise<number> {
    return stat(this.of(id, 'job.json')).then(
      ({ mtimeMs }) => mtimeMs,
      () => 0,
    )
  }
}

/** Files of a folder and of those in it, by their names from it, in order. */
async function filesBelow(folder: string, before = ''): Promise<ResultFile[]> {
  const entries = await readdir(path.join(folder, before), { withFileTypes: true })
  const found = await Promise.all(
    entries.map(async (entry): Promise<ResultFile[]> => {
      const name = before ? `${before}/${entry.name}` : entry.name
      if (entry.isDirectory()) return filesBelow(folder, name)
      const { size } = await stat(path.join(folder, name)).catch(() => ({ size: 0 }))
      return [{ name, bytes: size }]
    }),
  )
  return found.flat().sort((a, b) => (a.name < b.name ? -1 : 1))
}
