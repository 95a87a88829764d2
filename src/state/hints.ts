import { create } from 'zustand'
import { z } from 'zod'
import { database } from '@/data/database'

/** Hints of the first visit: which were read, in this browser. */
const KEY = 'hints-read'
const schema = z.array(z.string().max(40)).max(200)

/** Null: not known yet; none is shown meanwhile. */
export const useHints = create<{ readonly read: readonly string[] | null }>(() => ({ read: null }))

export async function loadHints(): Promise<void> {
  if (useHints.getState().read !== null) return
  const row = await database.settings.get(KEY).catch(() => undefined)
  useHints.setState({ read: schema.catch([]).parse(row?.value) })
}

/** A hint was read: it does not come again. */
export function readHint(id: string): void {
  const read = [...new Set([...(useHints.getState().read ?? []), id])]
  useHints.setState({ read })
  void database.settings.put({ key: KEY, value: read }).catch(() => undefined)
}

/** All come again. */
export function recallHints(): void {
  useHints.setState({ read: [] })
  void database.settings.delete(KEY).catch(() => undefined)
}
