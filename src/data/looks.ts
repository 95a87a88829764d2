import { z } from 'zod'
import { database, type ProjectRow } from './database'

/** Small pictures of the pages and mock-ups of posters, as they were seen last: for the start page. */

export const lookKey = (projectId: string, sheetId: string): string => `${projectId}/${sheetId}`

/** @param bytes PNG. */
export const keepLook = async (projectId: string, sheetId: string, bytes: Uint8Array): Promise<void> => {
  await database.looks.put({
    key: lookKey(projectId, sheetId),
    projectId,
    sheetId,
    bytes: new Uint8Array(bytes),
  })
}

export const loadLook = async (projectId: string, sheetId: string): Promise<Uint8Array | null> =>
  (await database.looks.get(lookKey(projectId, sheetId)))?.bytes ?? null

/** What of a stored document tells of its posters. */
const postersSchema = z.object({
  posters: z.array(z.object({ id: z.string(), name: z.string() })),
  sheets: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      page: z.object({ posterId: z.string() }).optional(),
      mockupOf: z.string().optional(),
    }),
  ),
})

/** A poster of a stored project. */
export interface StoredPoster {
  readonly id: string
  readonly name: string
  readonly formats: number
  /** What is to be seen of it, the best first: its mock-ups, then its pages. */
  readonly sheetIds: readonly string[]
}

/** The posters of a stored project, without opening it. */
export function postersIn(row: Pick<ProjectRow, 'document'>): StoredPoster[] {
  const found = postersSchema.safeParse(row.document)
  if (!found.success) return []
  const { posters, sheets } = found.data
  return posters.map(({ id, name }) => {
    const pages = sheets.filter(({ page }) => page?.posterId === id)
    const mockups = sheets.filter(({ mockupOf }) => mockupOf === id)
    return { id, name, formats: pages.length, sheetIds: [...mockups, ...pages].map((sheet) => sheet.id) }
  })
}
