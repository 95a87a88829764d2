import { z } from 'zod'
import type { StudioOrder } from './studio-door'

/** The studio's machine as the application sees it, through its own server (`app/studio`). */
const jobSchema = z.object({
  id: z.string(),
  state: z.enum(['waiting', 'running', 'done', 'failed']),
  progress: z.number(),
  secondsLeft: z.number().nullable(),
  error: z.string().optional(),
  files: z.array(z.object({ name: z.string(), url: z.string(), bytes: z.number() })),
})
export type StudioJob = z.infer<typeof jobSchema>

const DOOR = '/studio'

/** @throws {Error} in the words of who refused it. */
async function asked(path: string, options: RequestInit = {}): Promise<Response> {
  const reply = await fetch(`${DOOR}${path}`, options)
  if (reply.ok) return reply
  const told = z.object({ error: z.string() }).safeParse(await reply.json().catch(() => null))
  throw new Error(told.success ? told.data.error : `the studio answered ${reply.status}`)
}

const healthSchema = z.object({
  status: z.literal('ok'),
  raysPerSecond: z.number().positive().nullable().catch(null),
})
export type StudioHealth = z.infer<typeof healthSchema>

/** How it does, where there is one and it takes jobs; else null. */
export async function studioHealth(): Promise<StudioHealth | null> {
  try {
    const reply = await fetch(`${DOOR}/health`)
    return reply.ok ? healthSchema.parse(await reply.json()) : null
  } catch {
    return null
  }
}

/**
 * Sends a project and what is to be made of it.
 * @returns the name of the job: the same for the same project and order.
 */
export async function sendToStudio(archive: Blob, order: StudioOrder, signal: AbortSignal): Promise<string> {
  const reply = await asked(`/jobs?${new URLSearchParams({ job: JSON.stringify(order) })}`, {
    method: 'POST',
    body: archive,
    signal,
  })
  return z.object({ id: z.string() }).parse(await reply.json()).id
}

export const studioJob = async (id: string, signal: AbortSignal): Promise<StudioJob> =>
  jobSchema.parse(await (await asked(`/jobs/${id}`, { signal })).json())

export const studioFile = async (url: string, signal: AbortSignal): Promise<Blob> =>
  (await asked(url, { signal })).blob()

/** Takes a job away; one that is gone already is no fault. */
export const dropStudioJob = (id: string): Promise<void> =>
  asked(`/jobs/${id}`, { method: 'DELETE' }).then(
    () => undefined,
    () => undefined,
  )
