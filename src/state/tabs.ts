import { z } from 'zod'

/** What tabs of this browser tell each other of projects that one of them holds. */
const messageSchema = z.discriminatedUnion('type', [
  /** Asks the tab that has it open to rename it. */
  z.strictObject({ type: z.literal('rename'), projectId: z.string(), name: z.string() }),
  z.strictObject({ type: z.literal('renamed'), projectId: z.string() }),
  z.strictObject({ type: z.literal('deleted'), projectId: z.string() }),
])
export type TabMessage = z.infer<typeof messageSchema>

const listeners = new Set<(message: TabMessage) => void>()
let channel: BroadcastChannel | null = null

function join(): BroadcastChannel | null {
  if (channel || typeof window === 'undefined' || typeof BroadcastChannel === 'undefined') return channel
  channel = new BroadcastChannel('muted-relief')
  channel.onmessage = ({ data }: MessageEvent<unknown>) => {
    const parsed = messageSchema.safeParse(data)
    if (parsed.success) for (const listener of listeners) listener(parsed.data)
  }
  return channel
}

/** Tells all other tabs. */
export const tellTabs = (message: TabMessage): void => join()?.postMessage(message)

/** Hears what other tabs tell. */
export function onTabMessage(listener: (message: TabMessage) => void): () => void {
  join()
  listeners.add(listener)
  return () => listeners.delete(listener)
}
