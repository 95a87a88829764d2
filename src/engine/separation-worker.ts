import { BlobWriter, Uint8ArrayReader, ZipWriter } from '@zip.js/zip.js'
import { z } from 'zod'
import { paramValuesSchema } from '@/core/params'
import { passResultSchema } from '@/core/passes/check-result'
import { frameSchema } from '@/core/scene/camera'
import { SeparationDesk, type PackedPicture, type SetOrder } from '@/core/separate/separation-desk'
import { answerRequests, movable, type Answer } from '@/core/workers/answer-requests'
import { tileSchema } from './messages'

/** Pictures of sets are made, packed and laid together here, and joined to a file where one is wanted. */
const request = z.number()
export const separationSettingSchema = z.strictObject({
  frame: frameSchema,
  count: z.number().int().positive(),
  how: z.enum(['whole', 'seen']),
  trim: z.boolean(),
  bits: z.union([z.literal(8), z.literal(16)]),
})
const result = passResultSchema
const look = paramValuesSchema
const requestSchema = z.discriminatedUnion('type', [
  z.strictObject({ type: z.literal('begin'), request, setting: separationSettingSchema }),
  z.strictObject({
    type: z.literal('depth'),
    request,
    index: z.number().int().min(0),
    window: tileSchema,
    result,
  }),
  z.strictObject({ type: z.literal('order'), request }),
  z.strictObject({
    type: z.literal('picture'),
    request,
    result,
    look,
    window: tileSchema.nullable(),
    isPart: z.boolean(),
  }),
  z.strictObject({ type: z.literal('nothing'), request }),
  z.strictObject({ type: z.literal('difference'), request, result, look }),
  z.strictObject({ type: z.literal('add'), request, name: z.string(), file: z.instanceof(Uint8Array) }),
  z.strictObject({ type: z.literal('finish'), request }),
])
export type SeparationRequestMessage = z.infer<typeof requestSchema>
export type SeparationReply =
  | { readonly request: number; readonly type: 'done' }
  | { readonly request: number; readonly type: 'ordered'; readonly order: SetOrder }
  | { readonly request: number; readonly type: 'packed'; readonly picture: PackedPicture }
  | { readonly request: number; readonly type: 'compared'; readonly difference: number }
  | { readonly request: number; readonly type: 'zip'; readonly file: Blob }

let desk: SeparationDesk | null = null
let zip: ZipWriter<Blob> | null = null

const atDesk = (): SeparationDesk => {
  if (!desk) throw new Error('no sets are being separated')
  return desk
}

async function answer(message: SeparationRequestMessage): Promise<Answer<SeparationReply>> {
  const { request: number } = message
  const done = { reply: { request: number, type: 'done' } } as const
  const packed = (picture: PackedPicture): Answer<SeparationReply> => ({
    reply: { request: number, type: 'packed', picture },
    transfer: movable([picture.file]),
  })
  switch (message.type) {
    case 'begin':
      desk = new SeparationDesk(message.setting)
      zip = null
      return done
    case 'depth':
      atDesk().depth(message.index, message.window, message.result)
      return done
    case 'order':
      return { reply: { request: number, type: 'ordered', order: atDesk().order() } }
    case 'picture':
      return packed(atDesk().picture(message.result, message.look, message.window, message.isPart))
    case 'nothing':
      return packed(atDesk().nothing())
    case 'difference': {
      const difference = atDesk().difference(message.result, message.look)
      return { reply: { request: number, type: 'compared', difference } }
    }
    case 'add':
      zip ??= new ZipWriter(new BlobWriter('application/zip'), { useWebWorkers: false })
      // Pictures are packed already.
      await zip.add(message.name, new Uint8ArrayReader(message.file), { level: 0 })
      return done
    case 'finish': {
      const file = await (zip ?? new ZipWriter(new BlobWriter('application/zip'))).close()
      zip = null
      return { reply: { request: number, type: 'zip', file } }
    }
  }
}

const serve = answerRequests(
  (message) => requestSchema.parse(message),
  answer,
  (reply, transfer) => self.postMessage(reply, { transfer }),
)
self.onmessage = (event: MessageEvent<unknown>) => void serve(event.data)
