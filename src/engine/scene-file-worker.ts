import { z } from 'zod'
import { writeGlb } from '@/core/formats/write-glb'
import type { SceneModel } from '@/core/scene/scene-geometry'
import { answerRequests, movable } from '@/core/workers/answer-requests'

/** A scene is written as a file here: a million triangles take a while. */
const requestSchema = z.strictObject({
  type: z.literal('glb'),
  request: z.number(),
  name: z.string(),
  models: z.array(z.custom<SceneModel>((v) => typeof v === 'object' && v !== null && 'mesh' in v)).min(1),
})
export type SceneFileRequest = z.infer<typeof requestSchema>
export interface SceneFileReply {
  readonly request: number
  readonly type: 'file'
  readonly file: Uint8Array<ArrayBuffer>
}

const serve = answerRequests(
  (message) => requestSchema.parse(message),
  async ({ request, name, models }) => {
    const file = new Uint8Array(await writeGlb({ name, models }))
    return { reply: { request, type: 'file' as const, file }, transfer: movable([file]) }
  },
  (reply, transfer) => self.postMessage(reply, { transfer }),
)
self.onmessage = (event: MessageEvent<unknown>) => void serve(event.data)
