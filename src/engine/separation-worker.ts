import { BlobWriter, Uint8ArrayReader, ZipWriter } from '@zip.js/zip.js'
import { z } from 'zod'
import { paramValuesSchema } from '@/core/params'
import { passResultSchema } from '@/core/passes/check-result'
import { frameSchema } from '@/core/scene/camera'
import { atlasSettingSchema, type AtlasManifest } from '@/core/separate/atlas'
import { backdropFiles, backdropPictures, type BackdropManifest } from '@/core/separate/backdrop'
import { AtlasPictures } from '@/core/separate/atlas-pictures'
import { pixelBoxSchema, separationManifestSchema } from '@/core/separate/separation-manifest'
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
const packedSchema = pixelBoxSchema.extend({
  file: z.custom<Uint8Array<ArrayBuffer>>((v) => v instanceof Uint8Array),
})
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
  z.strictObject({
    type: z.literal('to-atlas'),
    request,
    setting: atlasSettingSchema,
    set: z.strictObject({
      name: z.string(),
      order: z.number().int().min(0),
      picture: packedSchema.nullable(),
      shadow: packedSchema.nullable(),
      reflection: packedSchema.nullable(),
    }),
  }),
  z.strictObject({
    type: z.literal('backdrop'),
    request,
    renders: z.strictObject({ open: result, shaded: result, subject: result, whole: result }),
    look,
  }),
  z.strictObject({ type: z.literal('pack-atlas'), request, manifest: separationManifestSchema }),
  z.strictObject({ type: z.literal('finish'), request }),
])
export type SeparationRequestMessage = z.infer<typeof requestSchema>
export type SeparationReply =
  | { readonly request: number; readonly type: 'done' }
  | { readonly request: number; readonly type: 'ordered'; readonly order: SetOrder }
  | { readonly request: number; readonly type: 'packed'; readonly picture: PackedPicture }
  | { readonly request: number; readonly type: 'compared'; readonly difference: number }
  | {
      readonly request: number
      readonly type: 'backdrop'
      readonly files: ReadonlyMap<string, Uint8Array<ArrayBuffer>>
      readonly manifest: BackdropManifest
    }
  | { readonly request: number; readonly type: 'atlas'; readonly atlas: AtlasManifest }
  | { readonly request: number; readonly type: 'zip'; readonly file: Blob }

let desk: SeparationDesk | null = null
let zip: ZipWriter<Blob> | null = null
let atlas: AtlasPictures | null = null

async function add(name: string, file: Uint8Array): Promise<void> {
  zip ??= new ZipWriter(new BlobWriter('application/zip'), { useWebWorkers: false })
  // Pictures are packed already.
  await zip.add(name, new Uint8ArrayReader(file), { level: 0 })
}

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
      atlas = null
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
      await add(message.name, message.file)
      return done
    case 'to-atlas':
      atlas ??= new AtlasPictures(message.setting)
      atlas.take(message.set)
      return done
    case 'backdrop': {
      const { renders, look: own } = message
      const { files, manifest } = backdropFiles(backdropPictures(renders, own), renders.whole)
      return {
        reply: { request: number, type: 'backdrop', files, manifest },
        transfer: movable([...files.values()]),
      }
    }
    case 'pack-atlas': {
      if (!atlas) throw new Error('no atlas was begun')
      const packed = await atlas.pack(message.manifest, 1, add)
      return { reply: { request: number, type: 'atlas', atlas: packed } }
    }
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
