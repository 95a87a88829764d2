import { z } from 'zod'
import { areChannels } from '@/core/passes/check-result'
import { passFactsSchema, type PassFacts } from '@/core/passes/pass-facts'
import { type Tile } from '@/core/passes/tile'
import { allocateChannel, type ChannelData, type ChannelSpec } from '@/core/picture/channel'
import { database } from './database'
import { qualitySchema, tileSchema } from './project-schema'

/**
 * Renders that are under way, kept as they go: what was asked, and every block of the picture that is finished. A job
 * that a reload, a pause or a crash interrupted goes on from there.
 */
export const jobRecordSchema = z.object({
  id: z.string(),
  projectId: z.string(),
  projectName: z.string(),
  passIds: z.array(z.string()).min(1),
  quality: qualitySchema,
  /** Place in the queue: lower goes first. */
  place: z.number(),
  paused: z.boolean(),
  /** Why it stopped by itself, in words; null where it did not. */
  reason: z.string().nullable().default(null),
  /** Whether what stood before is kept beside it, to be compared. */
  keepsBefore: z.boolean().default(false),
  /** A rectangle of the picture to be rendered before the rest. */
  first: tileSchema.nullable(),
  /** Hash of everything the blocks depend on; empty until rendering has begun. */
  key: z.string(),
  /** What the finished tiles of each pass cost, by pass id. */
  passes: z.record(z.string(), z.object({ rays: z.number(), seconds: z.number(), samples: z.number() })),
})
export type JobRecord = z.infer<typeof jobRecordSchema>

const blockKey = (jobId: string, passId: string, block: number): string => `${jobId}/${passId}/${block}`

/** Unfinished jobs of a project in their order; records that cannot be read are dropped. */
export async function loadJobs(projectId: string): Promise<JobRecord[]> {
  const rows = await database.jobs.where('projectId').equals(projectId).toArray()
  const jobs: JobRecord[] = []
  for (const row of rows) {
    const parsed = jobRecordSchema.safeParse(row.record)
    if (parsed.success) jobs.push(parsed.data)
    else await dropJob(row.id)
  }
  return jobs.sort((a, b) => a.place - b.place)
}

export const saveJob = async (record: JobRecord): Promise<void> => {
  await database.jobs.put({ id: record.id, projectId: record.projectId, record })
}

/** Drops a job and the blocks it has. */
export async function dropJob(jobId: string): Promise<void> {
  await database.transaction('rw', database.jobs, database.blocks, async () => {
    await database.jobs.delete(jobId)
    await database.blocks.where('jobId').equals(jobId).delete()
  })
}

/** Drops the blocks of a job that no longer fit, and keeps the job. */
export const dropBlocks = async (jobId: string): Promise<void> => {
  await database.blocks.where('jobId').equals(jobId).delete()
}

export interface BlockParts {
  readonly passId: string
  /** Channels of the block alone. */
  readonly channels: ChannelData[]
  readonly told: PassFacts
}

/** Keeps a finished block with the record that counts it, both or neither. */
export async function saveBlock(
  record: JobRecord,
  block: number,
  rect: Tile,
  parts: readonly BlockParts[],
): Promise<void> {
  await database.transaction('rw', database.jobs, database.blocks, async () => {
    await database.blocks.bulkPut(
      parts.map(({ passId, channels, told }) => ({
        key: blockKey(record.id, passId, block),
        jobId: record.id,
        passId,
        block,
        rect: { ...rect },
        channels,
        told,
      })),
    )
    await saveJob(record)
  })
}

/** A block that is there, and what its tiles told. */
export interface KeptBlock {
  readonly block: number
  readonly told: PassFacts
}

/** The kept blocks of one pass, put together. Blocks that do not fit the picture are left out. */
export async function loadBlocks(
  jobId: string,
  passId: string,
  specs: readonly ChannelSpec[],
  width: number,
  height: number,
): Promise<{ channels: ChannelData[]; blocks: KeptBlock[] }> {
  const channels = specs.map((spec) => allocateChannel(spec.format, width * height))
  const blocks: KeptBlock[] = []
  await database.blocks
    .where('key')
    .startsWith(`${jobId}/${passId}/`)
    .each(({ block, rect, channels: parts, told }) => {
      const fits =
        rect.x >= 0 &&
        rect.y >= 0 &&
        rect.x + rect.width <= width &&
        rect.y + rect.height <= height &&
        areChannels(parts, specs, rect.width * rect.height)
      if (!fits) return
      channels.forEach((channel, c) => {
        for (let row = 0; row < rect.height; row++)
          channel.set(
            parts[c].subarray(row * rect.width, (row + 1) * rect.width),
            (rect.y + row) * width + rect.x,
          )
      })
      blocks.push({ block, told: passFactsSchema.catch({}).parse(told) })
    })
  return { channels, blocks }
}
