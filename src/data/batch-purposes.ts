import { z } from 'zod'
import { batchPurposeSchema, type BatchPurpose } from '@/core/batch/batch-plan'
import { database } from './database'

/** Ways to hand files over that the person gave names to: in this browser, for all projects. */

const ownSchema = z.array(z.object({ name: z.string().min(1).max(60), purpose: batchPurposeSchema })).max(100)
export type OwnPurpose = z.infer<typeof ownSchema>[number]

const KEY = 'batch-purposes'

/** All of them, by their names; what cannot be read is as if it were not there. */
export async function loadPurposes(): Promise<OwnPurpose[]> {
  const parsed = ownSchema.safeParse((await database.settings.get(KEY))?.value)
  return parsed.success ? parsed.data : []
}

/** Keeps one under a name, in the place of what had it. @returns all of them. */
export const savePurpose = (name: string, purpose: BatchPurpose): Promise<OwnPurpose[]> =>
  changePurposes((all) => [...all.filter((own) => own.name !== name), { name, purpose }])

/** @returns those that are left. */
export const removePurpose = (name: string): Promise<OwnPurpose[]> =>
  changePurposes((all) => all.filter((own) => own.name !== name))

const changePurposes = (change: (all: OwnPurpose[]) => OwnPurpose[]): Promise<OwnPurpose[]> =>
  database.transaction('rw', database.settings, async () => {
    const next = ownSchema.parse(change(await loadPurposes()).sort((a, b) => a.name.localeCompare(b.name)))
    await database.settings.put({ key: KEY, value: next })
    return next
  })
