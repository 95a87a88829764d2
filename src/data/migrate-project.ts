import type { z } from 'zod'
import { fromVersion1, version1 } from './migrations/from-version-1'
import { fromVersion2, version2 } from './migrations/from-version-2'
import { fromVersion3, version3 } from './migrations/from-version-3'
import { fromVersion4, version4 } from './migrations/from-version-4'
import { fromVersion5, version5 } from './migrations/from-version-5'

/**
 * Brings the documents of earlier versions up to this one's, one version after the other. What cannot be one is handed on for
 * the schema to refuse.
 * @param document a project document of any version, as it was stored.
 */
export function migrateProject(document: unknown): unknown {
  let now = document
  const step = <T>(schema: z.ZodType<T>, upgrade: (old: T) => unknown) => {
    const parsed = schema.safeParse(now)
    if (parsed.success) now = upgrade(parsed.data)
  }
  step(version1, fromVersion1)
  step(version2, fromVersion2)
  step(version3, fromVersion3)
  step(version4, fromVersion4)
  step(version5, fromVersion5)
  return now
}
