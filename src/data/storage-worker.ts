import { z } from 'zod'
import { assertNever } from '@/core/errors'
import { MATTES_BY } from '@/core/formats/coverage-mattes'
import { writeLayeredExr, type ExrLayer } from '@/core/formats/layered-exr'
import { PASS_FORMATS, passFile } from '@/core/formats/pass-file'
import { readPassBundle, type BundleCost } from '@/core/formats/pass-bundle'
import { ARCHIVE_ZIP, fileSource, ZipFile } from '@/core/formats/zip-file'
import { CHANNEL_FORMATS, type ChannelData } from '@/core/picture/channel'
import { paramValuesSchema } from '@/core/params'
import { passFactsSchema } from '@/core/passes/pass-facts'
import { passResultSchema } from '@/core/passes/check-result'
import type { PassResult } from '@/core/passes/pass-result'
import { PASS_KINDS } from '@/core/passes/registry'
import { answerRequests, movable } from '@/core/workers/answer-requests'
import { release } from '@/core/workers/release'
import { openProjectArchive, streamProjectArchive } from './project-archive'
import { duplicateProject, saveFile, storedProject, storeProject } from './project-repository'
import { projectSchema, renderedSchema, tileSchema } from './project-schema'
import { jobRecordSchema, loadBlocks, saveBlock, type KeptBlock } from './render-jobs'
import type { TileRow } from './database'
import { loadPaint, savePaint } from './stored-paint'
import { loadResult, saveResult } from './stored-results'

/**
 * Storage work on bulk: passes in and out, whole projects packed, brought in and copied. Done here because copying tens
 * of megabytes into or out of storage would hold up the main thread.
 */
const request = z.number()
const requestSchema = z.discriminatedUnion('type', [
  z.strictObject({
    type: z.literal('save-result'),
    request,
    projectId: z.string(),
    resultId: z.string(),
    result: passResultSchema,
  }),
  /** A pass as another machine rendered it, as `writePassBundle` wrote it. */
  z.strictObject({
    type: z.literal('save-bundle'),
    request,
    projectId: z.string(),
    resultId: z.string(),
    /** What it is called where it is wrong. */
    name: z.string(),
    bundle: z.instanceof(Blob),
    expected: z.strictObject({ kind: z.enum(PASS_KINDS), width: z.number(), height: z.number() }),
  }),
  z.strictObject({
    type: z.literal('load-result'),
    request,
    projectId: z.string(),
    rendered: renderedSchema,
  }),
  z.strictObject({
    type: z.literal('save-block'),
    request,
    record: jobRecordSchema,
    block: z.number().int(),
    rect: tileSchema,
    parts: z.array(
      z.strictObject({
        passId: z.string(),
        channels: z.array(z.custom<ChannelData>((v) => ArrayBuffer.isView(v))),
        told: passFactsSchema,
      }),
    ),
  }),
  z.strictObject({
    type: z.literal('load-blocks'),
    request,
    jobId: z.string(),
    passId: z.string(),
    specs: z.array(z.object({ name: z.string(), format: z.enum(CHANNEL_FORMATS) })),
    width: z.number().int().positive(),
    height: z.number().int().positive(),
  }),
  z.strictObject({
    type: z.literal('save-file'),
    request,
    projectId: z.string(),
    fileId: z.string(),
    name: z.string(),
    bytes: z.custom<Uint8Array>((v) => v instanceof Uint8Array),
  }),
  /** Tiles that were painted by hand, … */
  z.strictObject({
    type: z.literal('save-paint'),
    request,
    projectId: z.string(),
    tiles: z.array(
      z.strictObject({
        name: z.string(),
        bytes: z.custom<Uint8Array<ArrayBuffer>>((v) => v instanceof Uint8Array),
      }),
    ),
  }),
  /** … and they again. */
  z.strictObject({ type: z.literal('load-paint'), request, names: z.array(z.string()) }),
  z.strictObject({ type: z.literal('pack'), request, project: projectSchema }),
  z.strictObject({
    type: z.literal('import'),
    request,
    name: z.string(),
    file: z.instanceof(Blob),
    keepIdWhereFree: z.boolean(),
  }),
  z.strictObject({ type: z.literal('duplicate'), request, projectId: z.string() }),
  /** One pass as a file, … */
  z.strictObject({
    type: z.literal('write-pass'),
    request,
    projectId: z.string(),
    /** What is stored of it, or itself. */
    rendered: z.union([renderedSchema, passResultSchema]),
    look: paramValuesSchema,
    format: z.enum(PASS_FORMATS),
  }),
  /** … or several as one. */
  z.strictObject({
    type: z.literal('write-layers'),
    request,
    projectId: z.string(),
    layers: z
      .array(z.strictObject({ name: z.string(), rendered: renderedSchema, look: paramValuesSchema }))
      .min(1),
    mattes: z.array(z.enum(MATTES_BY)),
    idPass: renderedSchema.nullable(),
    precision: z.enum(['kept', 'half']),
  }),
])
export type StorageRequest = z.infer<typeof requestSchema>
export type StorageReply =
  | { readonly request: number; readonly type: 'done' }
  | { readonly request: number; readonly type: 'result'; readonly result: PassResult | null }
  /** A pass that was stored, without its channels and lines. */
  | {
      readonly request: number
      readonly type: 'stored'
      readonly result: PassResult
      readonly cost: BundleCost
    }
  | {
      readonly request: number
      readonly type: 'blocks'
      readonly channels: ChannelData[]
      readonly blocks: KeptBlock[]
    }
  | { readonly request: number; readonly type: 'paint'; readonly tiles: readonly TileRow[] }
  | { readonly request: number; readonly type: 'file'; readonly file: Blob }
  | { readonly request: number; readonly type: 'project'; readonly projectId: string }

async function answer(message: StorageRequest, tell: (share01: number) => void): Promise<StorageReply> {
  const { request } = message
  switch (message.type) {
    case 'save-result':
      try {
        await saveResult(message.projectId, message.resultId, message.result)
      } finally {
        release(message.result.channels)
      }
      return { request, type: 'done' }
    case 'save-bundle':
      return { request, type: 'stored', ...(await saveBundle(message)) }
    case 'load-result':
      return { request, type: 'result', result: await loadResult(message.projectId, message.rendered) }
    case 'save-block':
      await saveBlock(message.record, message.block, message.rect, message.parts)
      release(message.parts.flatMap(({ channels }) => channels))
      return { request, type: 'done' }
    case 'load-blocks': {
      const { jobId, passId, specs, width, height } = message
      return { request, type: 'blocks', ...(await loadBlocks(jobId, passId, specs, width, height)) }
    }
    case 'save-file':
      await saveFile(message.projectId, message.fileId, message.name, message.bytes)
      release([message.bytes])
      return { request, type: 'done' }
    case 'save-paint':
      await savePaint(message.projectId, message.tiles)
      return { request, type: 'done' }
    case 'load-paint':
      return { request, type: 'paint', tiles: await loadPaint(message.names) }
    case 'pack': {
      // What is written goes into a blob as it comes: the browser keeps large ones on disk.
      const { readable, writable } = new TransformStream<Uint8Array, Uint8Array>()
      const file = new Response(readable).blob()
      await streamProjectArchive(storedProject(message.project), writable, tell)
      return { request, type: 'file', file: await file }
    }
    case 'import': {
      const { name, file, keepIdWhereFree } = message
      const archive = await openProjectArchive(fileSource(file), name)
      const projectId = await storeProject(archive, { keepIdWhereFree, onProgress: tell })
      return { request, type: 'project', projectId }
    }
    case 'duplicate':
      return { request, type: 'project', projectId: await duplicateProject(message.projectId) }
    case 'write-pass': {
      const { projectId, rendered, look, format } = message
      const bytes = passFile(
        'channels' in rendered ? rendered : await storedPass(projectId, rendered, 'the pass'),
        look,
        format,
      )
      const type = format === 'exr' ? 'image/x-exr' : 'image/png'
      return { request, type: 'file', file: new Blob([new Uint8Array(bytes)], { type }) }
    }
    case 'write-layers': {
      const { projectId, mattes, precision } = message
      const layers: ExrLayer[] = []
      for (const { name, rendered, look } of message.layers) {
        layers.push({ name, look, result: await storedPass(projectId, rendered, name) })
        tell((0.5 * layers.length) / message.layers.length)
      }
      const idPass = message.idPass && (await storedPass(projectId, message.idPass, 'the ID pass'))
      const bytes = writeLayeredExr({ layers, mattes, idPass, precision })
      return { request, type: 'file', file: new Blob([new Uint8Array(bytes)], { type: 'image/x-exr' }) }
    }
    default:
      return assertNever(message)
  }
}

/** @throws {Error} naming it where it is not what was asked for, or cannot be stored. */
async function saveBundle({
  projectId,
  resultId,
  name,
  bundle,
  expected,
}: Extract<StorageRequest, { type: 'save-bundle' }>) {
  const zip = await ZipFile.open(fileSource(bundle), name, ARCHIVE_ZIP)
  const { result, cost } = await readPassBundle(zip, name)
  const { kind, width, height } = result
  if (kind !== expected.kind || width !== expected.width || height !== expected.height)
    throw new Error(
      `${name} came as ${kind}, ${width} × ${height}, not as ${expected.kind}, ${expected.width} × ${expected.height}`,
    )
  await saveResult(projectId, resultId, result)
  return { result: { ...result, channels: [], drawing: null }, cost }
}

/** @throws {Error} in words where it is gone. */
async function storedPass(
  projectId: string,
  rendered: z.infer<typeof renderedSchema>,
  name: string,
): Promise<PassResult> {
  const result = await loadResult(projectId, rendered)
  if (!result) throw new Error(`the pixels of ${name} are gone: render it again`)
  return result
}

const channelsOf = (reply: StorageReply): readonly ChannelData[] =>
  reply.type === 'result' ? (reply.result?.channels ?? []) : reply.type === 'blocks' ? reply.channels : []

const serve = answerRequests(
  (message) => requestSchema.parse(message),
  async (message, tell) => {
    const reply = await answer(message, tell)
    return { reply, transfer: movable(channelsOf(reply)) }
  },
  (reply, transfer) => self.postMessage(reply, { transfer }),
)

self.onmessage = (event: MessageEvent<unknown>) => void serve(event.data)
