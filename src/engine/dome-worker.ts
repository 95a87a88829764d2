import { z } from 'zod'
import type { DomeRaster } from '@/core/passes/dome-picture'
import { decodeDome } from './decode-dome'

const requestSchema = z.strictObject({
  name: z.string(),
  bytes: z.custom<Uint8Array>((v) => v instanceof Uint8Array),
})
export type DomeReply = { readonly raster: DomeRaster } | { readonly problem: string }

self.onmessage = async (event: MessageEvent<unknown>) => {
  let reply: DomeReply
  try {
    const { bytes, name } = requestSchema.parse(event.data)
    reply = { raster: await decodeDome(bytes, name) }
  } catch (error) {
    reply = { problem: error instanceof Error ? error.message : String(error) }
  }
  self.postMessage(reply)
}
