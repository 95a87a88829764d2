import { storePaint } from '@/data/storage-service'
import { owedTiles } from './owed-tiles'
import { sheetService } from './sheet-sync'

/** How often it is tried again. Milliseconds. */
const EVERY_MS = 10_000
let timer: ReturnType<typeof setTimeout> | null = null

/** Notes tiles of a project that are not stored yet. */
export function owePaint(projectId: string, names: Iterable<string>): void {
  const own = owedTiles.get(projectId) ?? new Set<string>()
  for (const name of names) own.add(name)
  owedTiles.set(projectId, own)
  timer ??= setTimeout(() => void payPaint(), EVERY_MS)
}

/** Whether anything that was painted stands in memory alone. */
export const owesPaint = (): boolean => owedTiles.size > 0

/** Stores what could not be stored before, as far as there is room now. */
export async function payPaint(): Promise<void> {
  if (timer) clearTimeout(timer)
  timer = null
  for (const [projectId, names] of owedTiles) {
    const asked = [...names]
    try {
      await storePaint(projectId, await sheetService().paintBytes(asked))
      for (const name of asked) names.delete(name)
      if (names.size === 0) owedTiles.delete(projectId)
    } catch {
      // Still no room: again later.
    }
  }
  if (owedTiles.size > 0) timer ??= setTimeout(() => void payPaint(), EVERY_MS)
}
