import { z } from 'zod'
import { database } from './database'

/** The turntable of a project whose frames are being rendered, kept so that a reload goes on with it. */
export const turnJobSchema = z.object({
  turnId: z.string(),
  paused: z.boolean(),
  /** Why it stopped by itself, in words; null where it did not. */
  reason: z.string().nullable(),
})
export type TurnJobRecord = z.infer<typeof turnJobSchema>

const jobKey = (projectId: string): string => `turntable ${projectId}`

export async function loadTurnJob(projectId: string): Promise<TurnJobRecord | null> {
  const row = await database.settings.get(jobKey(projectId))
  return turnJobSchema
    .nullable()
    .catch(null)
    .parse(row?.value ?? null)
}
export const saveTurnJob = async (projectId: string, record: TurnJobRecord): Promise<void> => {
  await database.settings.put({ key: jobKey(projectId), value: record })
}
export const dropTurnJob = (projectId: string): Promise<void> => database.settings.delete(jobKey(projectId))
