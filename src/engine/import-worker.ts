import { z } from 'zod'
import { readModel } from '@/core/formats/model-readers'
import type { Model } from '@/core/geometry/polygon-mesh'

const requestSchema = z.strictObject({
  entry: z.string(),
  files: z.map(
    z.string(),
    z.custom<Uint8Array>((v) => v instanceof Uint8Array),
  ),
})

export type ImportReply = { readonly model: Model } | { readonly problem: string }

self.onmessage = async (event: MessageEvent<unknown>) => {
  let reply: ImportReply
  try {
    const { entry, files } = requestSchema.parse(event.data)
    reply = { model: await readModel(files, entry) }
  } catch (error) {
    reply = { problem: error instanceof Error ? error.message : String(error) }
  }
  const arrays = 'model' in reply ? Object.values(reply.model.mesh).filter((v) => ArrayBuffer.isView(v)) : []
  self.postMessage(reply, { transfer: arrays.map((a) => a.buffer as ArrayBuffer) })
}
