import { z } from 'zod'
import { assertNever } from '@/core/errors'
import { paramValuesSchema } from '@/core/params'
import { passFactsSchema } from '@/core/passes/pass-facts'
import { passResultSchema } from '@/core/passes/check-result'
import { surfaceSchema } from '@/core/passes/pass-result'
import { surfaceAt } from '@/core/passes/pass-result'
import { passPart, passStrokes, passWindow } from '@/core/passes/pass-picture'
import { writeSvgLines } from '@/core/formats/svg-lines'
import { handEditSchema, partsBeneath } from '@/core/lines/hand-weights'
import { pictureMemory } from '@/core/picture/picture-kernel'
import { premultiplied, toStraight8 } from '@/core/picture/rgba-picture'
import { TILE } from '@/core/picture/tile-form'
import { KeptTiles, NoRoomError } from '@/core/sheet/evaluate/kept-tiles'
import { wholePicture, writeTile } from '@/core/sheet/evaluate/picture-rows'
import { planLayer, planSheet, type SheetView } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { toneHistogram } from '@/core/sheet/evaluate/tone-histogram'
import { exportSheet, SHEET_FORMATS } from '@/core/sheet/export-sheet'
import { SHEET_FITS } from '@/core/sheet/sheet-fit'
import { hasSize } from '@/core/sheet/resize-sheet'
import { layWindow, passPlacement, toPicturePoint } from '@/core/sheet/pass-placement'
import { sheetSchema, type Sheet } from '@/core/sheet/sheet-schema'
import { renderedLightSchema } from '@/core/scene/rendered-light'
import { answerRequests, movable } from '@/core/workers/answer-requests'
import { release } from '@/core/workers/release'
import { decodePicture } from './decode-picture'
import { tileSchema } from './messages'
import { SheetHands, type SpawnHand } from './sheet-hands'
import { sharedPass, sharedPicture, SheetStore } from './sheet-store'

/** Makes pictures of sheets off the main thread. Holds the passes and pictures it was given, and the tiles that are kept. */

const sizeSchema = z.strictObject({ width: z.number().int().positive(), height: z.number().int().positive() })
const request = z.number()

export const sheetRequestSchema = z.discriminatedUnion('type', [
  z.strictObject({
    type: z.literal('pass'),
    request,
    passId: z.string(),
    shotId: z.string(),
    revision: z.string(),
    result: passResultSchema.nullable(),
  }),
  z.strictObject({
    type: z.literal('picture'),
    request,
    pictureId: z.string(),
    name: z.string(),
    bytes: z.custom<Uint8Array>((v) => v instanceof Uint8Array),
  }),
  /** Whether a picture can be read, and how large it is; nothing is kept of it. */
  z.strictObject({
    type: z.literal('check-picture'),
    request,
    name: z.string(),
    bytes: z.custom<Uint8Array>((v) => v instanceof Uint8Array),
  }),
  z.strictObject({ type: z.literal('drop-picture'), request, pictureId: z.string() }),
  /** How large a picture is. */
  z.strictObject({ type: z.literal('picture-size'), request, pictureId: z.string() }),
  z.strictObject({
    type: z.literal('compose'),
    request,
    sheet: sheetSchema,
    size: sizeSchema,
    upTo: z.number().int(),
    without: z.string().nullable(),
  }),
  z.strictObject({
    type: z.literal('thumbnail'),
    request,
    sheet: sheetSchema,
    layerId: z.string(),
    small: sizeSchema,
  }),
  /** How much there is of each tone in what a layer shows, or beneath it. */
  z.strictObject({
    type: z.literal('tone-histogram'),
    request,
    sheet: sheetSchema,
    layerId: z.string(),
    side: z.enum(['own', 'beneath']),
  }),
  z.strictObject({
    type: z.literal('pass-picture'),
    request,
    passId: z.string(),
    look: paramValuesSchema,
    byHand: z.array(handEditSchema).optional(),
    /** The part to show, in pixels of its shot's picture; null: all of it. */
    part: z.strictObject({ of: sizeSchema, rect: tileSchema }).nullable(),
    size: sizeSchema,
  }),
  /** The lights and base colours of a pass as they are to be seen now. */
  z.strictObject({
    type: z.literal('lights'),
    request,
    passId: z.string(),
    revision: z.string(),
    lights: z.array(renderedLightSchema),
    surfaces: z.array(surfaceSchema),
    /** What its lines follow; null where it has none. */
    facts: passFactsSchema.nullable(),
  }),
  /** The lines of a pass as they are on a layer, as SVG. */
  z.strictObject({
    type: z.literal('lines-file'),
    request,
    passId: z.string(),
    look: paramValuesSchema,
    byHand: z.array(handEditSchema),
    /** The picture's height on paper; null: pixels. */
    heightMm: z.number().positive().nullable(),
  }),
  /** Which parts' lines lie beneath a brush. */
  z.strictObject({
    type: z.literal('lines-beneath'),
    request,
    passId: z.string(),
    path: z.array(z.number()),
    radius: z.number().positive(),
  }),
  z.strictObject({
    type: z.literal('pick'),
    request,
    shotId: z.string(),
    /** How the shot's picture lies under the place pressed. */
    sheet: sizeSchema.extend({ fit: z.enum(SHEET_FITS) }),
    x01: z.number(),
    y01: z.number(),
  }),
  z.strictObject({
    type: z.literal('export'),
    request,
    sheet: sheetSchema,
    format: z.enum(SHEET_FORMATS),
    size: sizeSchema,
    transparent: z.boolean(),
  }),
])
export type SheetRequest = z.infer<typeof sheetRequestSchema>

export interface RasterReply {
  readonly width: number
  readonly height: number
  /** Straight 8-bit RGBA. */
  readonly rgba: Uint8ClampedArray<ArrayBuffer>
  readonly milliseconds: number
}
export type SheetReply =
  | { readonly request: number; readonly type: 'done' }
  | ({ readonly request: number; readonly type: 'raster' } & RasterReply)
  | { readonly request: number; readonly type: 'missing' }
  | {
      readonly request: number
      readonly type: 'picked'
      readonly surface: { part: string; material: string; partName: string; materialName: string } | null
      readonly hasIdPass: boolean
    }
  | { readonly request: number; readonly type: 'parts'; readonly keys: string[] }
  | { readonly request: number; readonly type: 'tones'; readonly tones: number[] }
  | {
      readonly request: number
      readonly type: 'size'
      readonly width: number
      readonly height: number
    }
  | { readonly request: number; readonly type: 'file'; readonly bytes: Uint8Array<ArrayBuffer> }

const store = new SheetStore()
const { passes, pictures, resources } = store
let pictureCount = 0

/** The longest side of the picture tones are counted in. */
const HISTOGRAM_SIDE = 480
/** The most bytes that are kept from one picture to the next. */
const KEPT_BYTES = 320 * 2 ** 20
/** Memory that threads share cannot be relied on to grow while they work: it is as large as it may get, untouched pages cost nothing. */
const SHARED_BYTES = KEPT_BYTES + 192 * 2 ** 20
const canShare = typeof Worker !== 'undefined' && self.crossOriginIsolated
const tiles = canShare ? new KeptTiles(pictureMemory(SHARED_BYTES, true)) : new KeptTiles()
const evaluator = new SheetEvaluator(tiles, resources)

const spawnHand: SpawnHand = (onReady, onBroken) => {
  const worker = new Worker(new URL('./sheet-hand.ts', import.meta.url), { type: 'module' })
  worker.onmessage = onReady
  worker.onerror = onBroken
  return { post: (message) => worker.postMessage(message), close: () => worker.terminate() }
}
/** Threads that paint beside this one: begun with the first proof, for an export needs none. */
let hands: SheetHands | null = null
function handsOfProofs(): SheetHands | null {
  if (!canShare) return null
  if (!hands) {
    hands = new SheetHands(tiles.memory, Math.min(3, navigator.hardwareConcurrency - 1), spawnHand)
    for (const passId of passes.keys()) tellPass(passId)
    for (const pictureId of pictures.keys()) tellPicture(pictureId)
  }
  return hands
}

/** Shares a pass, or that it is gone, with the hands. */
function tellPass(passId: string): void {
  if (!hands) return
  const pass = passes.get(passId) ?? null
  const isShared = pass?.result.channels.every(({ buffer }) => buffer instanceof SharedArrayBuffer) ?? true
  const own = pass && !isShared ? { ...pass, result: sharedPass(pass.result) } : pass
  if (own) passes.set(passId, own)
  hands.tell(`pass ${passId}`, { type: 'pass', passId, pass: own }, own === null)
}
function tellPicture(pictureId: string): void {
  if (!hands) return
  const stored = pictures.get(pictureId) ?? null
  const isShared = stored?.picture.pixels.buffer instanceof SharedArrayBuffer
  const own = stored && !isShared ? { ...stored, picture: sharedPicture(stored.picture) } : stored
  if (own) pictures.set(pictureId, own)
  hands.tell(`picture ${pictureId}`, { type: 'picture', pictureId, picture: own }, own === null)
}

/** A picture of a sheet: straight 8-bit RGBA. */
function proof(sheet: Sheet, view: SheetView, series: string): Uint8ClampedArray<ArrayBuffer> {
  tiles.tick()
  evaluator.begin(planSheet(sheet, view, resources), series)
  const own = handsOfProofs()
  const together = own && own.count > 0 ? paintTogether(own, sheet, view, series) : null
  tiles.shrinkTo(KEPT_BYTES)
  // Alone, row by row: a picture that does not fit into memory at once comes that way.
  const bytes = together ?? wholePicture(evaluator, view.size, 'bytes', undefined, KEPT_BYTES)
  return new Uint8ClampedArray(bytes.buffer)
}

/**
 * Paints with the hands: whoever is free takes the next tile.
 * @returns null where a hand failed, or where not all that is kept fits into memory.
 */
function paintTogether(
  own: SheetHands,
  sheet: Sheet,
  view: SheetView,
  series: string,
): Uint8Array<ArrayBuffer> | null {
  const { width, height } = view.size
  const output = new Uint8Array(new SharedArrayBuffer(4 * width * height))
  own.begin({ type: 'paint', sheet, view, series, output })
  const { across, down } = evaluator.grid
  let problem: unknown = null
  try {
    for (let tile = own.next(); tile < across * down; tile = own.next()) {
      const [tx, ty] = [tile % across, Math.floor(tile / across)]
      const row = output.subarray(4 * ty * TILE * width)
      evaluator.tile(tx, ty, (at) => writeTile(evaluator, tx, ty, at, 'bytes', row, width))
    }
  } catch (error) {
    problem = error
  }
  // Whatever happened, nobody may be at work any more when tiles are given back.
  const isWhole = own.finish()
  if (problem !== null && !(problem instanceof NoRoomError)) throw problem
  return isWhole && problem === null ? new Uint8Array(output) : null
}

/** What one layer alone shows; null where it has no pixels of its own. */
function layerPicture(
  sheet: Sheet,
  layerId: string,
  size: SheetView['size'],
): Uint8ClampedArray<ArrayBuffer> | null {
  const node = sheet.nodes[layerId]
  const planned = node && planLayer(node, sheet, { size }, resources)
  if (!planned) return null
  tiles.tick()
  evaluator.begin(planSheet({ ...sheet, roots: [] }, { size }, resources), 'card')
  const bytes = wholePicture(evaluator, size, 'bytes', (tx, ty, use) =>
    evaluator.layerTile(planned.source, planned.mask, tx, ty, use),
  )
  tiles.shrinkTo(KEPT_BYTES)
  return new Uint8ClampedArray(bytes.buffer)
}

async function answer(message: SheetRequest, tell: (share01: number) => void): Promise<SheetReply> {
  const { request } = message
  const started = performance.now()
  const raster = (
    picture: { width: number; height: number },
    rgba: Uint8ClampedArray<ArrayBuffer>,
  ): SheetReply => ({
    request,
    type: 'raster',
    width: picture.width,
    height: picture.height,
    rgba,
    milliseconds: performance.now() - started,
  })
  switch (message.type) {
    case 'pass':
      release(passes.get(message.passId)?.result.channels ?? [])
      if (message.result) {
        const { passId, result, revision, shotId } = message
        passes.set(passId, { result, revision, shotId })
      } else passes.delete(message.passId)
      tellPass(message.passId)
      return { request, type: 'done' }
    case 'lights': {
      const known = passes.get(message.passId)
      if (known) {
        const { passId, lights, surfaces, revision } = message
        const facts = message.facts ?? known.result.facts
        passes.set(passId, { ...known, result: { ...known.result, lights, surfaces, facts }, revision })
        tellPass(passId)
      }
      return { request, type: 'done' }
    }
    case 'picture':
      pictures.set(message.pictureId, {
        picture: await decodePicture(message.bytes, message.name),
        revision: ++pictureCount,
      })
      tellPicture(message.pictureId)
      return { request, type: 'done' }
    case 'check-picture': {
      const { width, height } = await decodePicture(message.bytes, message.name)
      return { request, type: 'size', width, height }
    }
    case 'picture-size': {
      const found = pictures.get(message.pictureId)?.picture
      if (!found) return { request, type: 'missing' }
      return { request, type: 'size', width: found.width, height: found.height }
    }
    case 'drop-picture':
      pictures.delete(message.pictureId)
      tellPicture(message.pictureId)
      return { request, type: 'done' }
    case 'compose': {
      const { sheet, size, upTo, without } = message
      const view = { size, upTo, without: without === null ? undefined : new Set([without]) }
      // Beside a picture without a layer there is one with it: each follows its own.
      return raster(size, proof(sheet, view, without === null ? 'proof' : 'compare'))
    }
    case 'thumbnail': {
      const { sheet, layerId, small } = message
      const rgba = layerPicture(sheet, layerId, small)
      return rgba ? raster(small, rgba) : { request, type: 'missing' }
    }
    case 'tone-histogram': {
      const { sheet, layerId, side } = message
      const scale = Math.min(1, HISTOGRAM_SIDE / Math.max(sheet.width, sheet.height))
      const size = {
        width: Math.max(1, Math.round(sheet.width * scale)),
        height: Math.max(1, Math.round(sheet.height * scale)),
      }
      tiles.tick()
      const plan = planSheet(sheet, { size }, resources)
      evaluator.begin(plan, 'histogram')
      const tones = toneHistogram(evaluator, plan, layerId, side)
      tiles.shrinkTo(KEPT_BYTES)
      return tones ? { request, type: 'tones', tones } : { request, type: 'missing' }
    }
    case 'pass-picture': {
      const found = passes.get(message.passId)?.result
      if (!found) return { request, type: 'missing' }
      const { part, look, byHand, size } = message
      // A pass rendered at another size is shown whole and in its own proportions: its pixels are not the shot's.
      if (part && hasSize(found, part.of))
        return raster(size, toStraight8(premultiplied(passPart(found, look, part.rect, size, byHand))))
      const placed = passPlacement(found, size, 'extend')
      const whole = { x: 0, y: 0, ...size }
      const pixels =
        layWindow(placed, whole, 4, (inside) => passWindow(found, look, placed, inside, byHand)) ??
        new Float32Array(4 * size.width * size.height)
      return raster(size, toStraight8(premultiplied({ ...size, pixels })))
    }
    case 'lines-file': {
      const found = passes.get(message.passId)?.result
      const strokes = found && passStrokes(found, message.look, message.byHand)
      if (!found?.drawing || !strokes) return { request, type: 'missing' }
      const { width, height, drawing } = found
      const text = writeSvgLines(drawing, strokes, { width, height, heightMm: message.heightMm ?? undefined })
      return { request, type: 'file', bytes: new TextEncoder().encode(text) }
    }
    case 'lines-beneath': {
      const drawing = passes.get(message.passId)?.result.drawing
      if (!drawing) return { request, type: 'missing' }
      return { request, type: 'parts', keys: partsBeneath(drawing, message.path, message.radius) }
    }
    case 'pick': {
      const found = store.idPass(message.shotId)?.result
      const { sheet } = message
      const [x, y] = found ? toPicturePoint(message.x01, message.y01, found, sheet, sheet.fit) : [-1, -1]
      const isInside = x >= 0 && x < 1 && y >= 0 && y < 1
      const surface = found && isInside ? surfaceAt(found, x * found.width, y * found.height) : null
      return { request, type: 'picked', surface, hasIdPass: found !== undefined }
    }
    case 'export': {
      const { sheet, format, size, transparent } = message
      const bytes = exportSheet(sheet, evaluator, resources, format, { ...size, transparent }, tell)
      return { request, type: 'file', bytes: new Uint8Array(bytes) }
    }
    default:
      return assertNever(message)
  }
}

const serve = answerRequests(
  (message) => sheetRequestSchema.parse(message),
  async (message, tell) => {
    const reply = await answer(message, tell)
    const bulk = reply.type === 'raster' ? [reply.rgba] : reply.type === 'file' ? [reply.bytes] : []
    return { reply, transfer: movable(bulk) }
  },
  (reply, transfer) => self.postMessage(reply, { transfer }),
)

// One at a time, in the order asked: later requests rely on what earlier ones brought.
let queue: Promise<void> = Promise.resolve()
self.onmessage = (event: MessageEvent<unknown>) => {
  queue = queue.then(() => serve(event.data))
}
