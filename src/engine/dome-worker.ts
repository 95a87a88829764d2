import { z } from 'zod'
import type { DomeRaster } from '@/core/passes/dome-picture'
import { answerRequests, movable } from '@/core/workers/answer-requests'
import { decodeDome } from './decode-dome'

const requestSchema = z.strictObject({
  type: z.literal('decode'),
  request: z.number(),
  name: z.string(),
  bytes: z.custom<Uint8Array>((v) => v instanceof Uint8Array),
})
export type DomeRequest = z.infer<typeof requestSchema>
export interface DomeReply {
  readonly type: 'raster'
  readonly request: number
  readonly raster: DomeRaster
}

const serve = answerRequests(
  (message) => requestSchema.parse(message),
  async ({ request, bytes, name }) => {
    const raster = await decodeDome(bytes, name)
    const reply: DomeReply = { type: 'raster', request, raster }
    return { reply, transfer: movable([raster.pixels]) }
  },
  (reply, transfer) => self.postMessage(reply, { transfer }),
)

self.onmessage = (event: MessageEvent<unknown>) => void serve(event.data)
