import { z } from 'zod'
import type { ProjectBundle } from './project-archive'
import { readProjectArchive, writeProjectArchive } from './project-archive'

/** Packs and unpacks project archives off the main thread: both take seconds on a large project. */
const requestSchema = z.discriminatedUnion('type', [
  z.strictObject({
    type: z.literal('pack'),
    bundle: z.custom<ProjectBundle>((v) => typeof v === 'object' && v !== null && 'project' in v),
  }),
  z.strictObject({
    type: z.literal('unpack'),
    name: z.string(),
    bytes: z.custom<Uint8Array>((v) => v instanceof Uint8Array),
  }),
])
export type ArchiveRequest = z.infer<typeof requestSchema>
export type ArchiveReply =
  | { readonly bytes: Uint8Array<ArrayBuffer> }
  | { readonly bundle: ProjectBundle }
  | { readonly problem: string }

self.onmessage = (event: MessageEvent<unknown>) => {
  let reply: ArchiveReply
  try {
    const request = requestSchema.parse(event.data)
    reply =
      request.type === 'pack'
        ? { bytes: new Uint8Array(writeProjectArchive(request.bundle)) }
        : { bundle: readProjectArchive(request.bytes, request.name) }
  } catch (error) {
    reply = { problem: error instanceof Error ? error.message : String(error) }
  }
  self.postMessage(reply, { transfer: 'bytes' in reply ? [reply.bytes.buffer] : [] })
}
