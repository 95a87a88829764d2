// One file: one worker, whose requests all work on the sheet that it holds.
import { z } from 'zod'
import { assertNever } from '@/core/errors'
import { joinBytes } from '@/core/join-bytes'
import { readOpenRaster } from '@/core/formats/read-openraster'
import { bytesSource } from '@/core/formats/zip-file'
import { posterSvg } from '@/core/poster/poster-svg'
import { writeSvgLines } from '@/core/formats/svg-lines'
import { alongLine } from '@/core/lines/along-line'
import { contentName } from '@/core/content-name'
import { carryOver } from '@/core/paint/carry-over'
import { partsBeneath } from '@/core/lines/hand-weights'
import { passPart, passStrokes, passWindow } from '@/core/passes/pass-picture'
import { surfaceAt } from '@/core/passes/pass-result'
import { premultiplied, toStraight8 } from '@/core/picture/rgba-picture'
import { grownStrokes } from '@/core/sheet/contents/cracks'
import { hasSize } from '@/core/sheet/resize-sheet'
import { layWindow, passPlacement, toPicturePoint } from '@/core/sheet/pass-placement'
import { answerRequests, movable } from '@/core/workers/answer-requests'
import { RankedQueue } from '@/core/workers/ranked-queue'
import { tonesToMatch } from '@/core/effects/match-tones'
import { decodeFont } from './decode-font'
import { fontFacts } from './font-facts'
import { surfacePlane } from '@/core/passes/surface-plane'
import { partDepths, partSilhouette } from '@/core/passes/part-depths'
import { isPremultiplied } from '@/core/turn/sequence'
import { decodePicture } from './decode-picture'
import type { SpawnHand } from './sheet-hands'
import { SheetPainter, type ViewRequest } from './sheet-painter'
import { readSamples, type StrokeTile } from './stroke-messages'
import {
  MOST_VIEWS,
  sheetRequestSchema,
  type SheetReply,
  type SheetRequest,
  type ShownAgain,
} from './sheet-requests'
import { snapshot, viewOn, viewSnapshot, type ShownView } from './sheet-view'

/** Makes pictures of a sheet off the main thread, and shows them on canvases that it owns. */

/** What goes before what. What a request relies on is a barrier. */
const RANKS = { document: 0, view: 1, pick: 2, card: 3, around: 4, file: 5 } as const
/** How long a picture that nobody sees waits for the screen. Milliseconds. */
const UNSEEN_MS = 60

/** A thread that has worked for less lets nobody wait. Milliseconds. */
const TURN_MS = 4
let turnedAt = 0
const bell = new MessageChannel()
let awaited: (() => void)[] = []
bell.port1.onmessage = () => {
  turnedAt = performance.now()
  const due = awaited
  awaited = []
  for (const resolve of due) resolve()
}
/** Lets the thread show what was painted, and take what has come. A message is as good as a timer, which waits by rule. */
const turn = (): Promise<void> =>
  performance.now() - turnedAt < TURN_MS
    ? Promise.resolve()
    : new Promise((resolve) => {
        awaited.push(resolve)
        bell.port2.postMessage(null)
      })
const shown = (): Promise<void> =>
  new Promise((resolve) => {
    setTimeout(resolve, UNSEEN_MS)
    if (typeof requestAnimationFrame === 'function') requestAnimationFrame(() => resolve())
  })

const spawnHand: SpawnHand = (onReady, onBroken) => {
  const worker = new Worker(new URL('./sheet-hand.ts', import.meta.url), { type: 'module' })
  worker.onmessage = onReady
  worker.onerror = onBroken
  return { post: (message) => worker.postMessage(message), close: () => worker.terminate() }
}
const canShare = typeof Worker !== 'undefined' && self.crossOriginIsolated
const painter = new SheetPainter(canShare ? spawnHand : null, turn)
const { store, desk } = painter
const { passes, pictures } = store
const queue = new RankedQueue(turn)
let pictureCount = 0

const views = new Map<number, ShownView>()
/** The newest request of each view: as far as messages have told, … */
const newest = new Int32Array(MOST_VIEWS)
/** … and as its asker tells at once. */
let told: Int32Array | null = null
const isStale = (view: number, number: number): boolean =>
  newest[view] > number || (told !== null && Atomics.load(told, view) > number)

/** Shows a view. What lies around what is seen of it follows when nothing else is to be done. */
async function show(
  message: Extract<SheetRequest, { type: 'show' }>,
  onProgress: (share01: number) => void,
): Promise<SheetReply> {
  const { request, view: id, number, seen, upTo, without, isBeside, isDraft } = message
  const started = performance.now()
  const view = views.get(id)
  if (!view) return { request, type: 'missing' }
  if (isStale(id, number)) return { request, type: 'ended' }
  const asked: ViewRequest = {
    series: `view ${id}`,
    seen,
    upTo,
    without,
    beside: isBeside ? id : null,
    isDraft,
    isStale: () => isStale(id, number) || views.get(id) !== view,
  }
  lastAsked.set(id, asked)
  if (!(await painter.show(view, asked, onProgress))) return { request, type: 'ended' }
  const milliseconds = performance.now() - started
  // A hand that moves is not kept waiting for the screen.
  if (view.isNew || !(isDraft || desk.isPainting)) await shown()
  view.isNew = false
  const around = (from: number): void =>
    queue.add(RANKS.around, async () => {
      const at = painter.showAround(view, asked, from)
      if (at !== null) around(at)
    })
  const beforehand = (from: number): void =>
    queue.add(RANKS.around, async () => {
      const at = painter.makeBeforehand(view, asked, from)
      if (at !== null) beforehand(at)
    })
  if (painter.hasAround(view, asked)) around(0)
  if (!isDraft) beforehand(0)
  return { request, type: 'shown', milliseconds }
}

/** What each view was asked to show last. */
const lastAsked = new Map<number, ViewRequest>()

/** Shows what is painted on every view of the sheet at work that nobody has asked anew for: a pen does not wait for that. */
async function showPainted(): Promise<ShownAgain[]> {
  const again: ShownAgain[] = []
  for (const [id, asked] of lastAsked) {
    const view = views.get(id)
    if (!view || view.isNew || asked.beside !== null || asked.isStale()) continue
    const started = performance.now()
    if (await painter.show(view, asked)) again.push({ view: id, milliseconds: performance.now() - started })
  }
  return again
}

/** Tiles under names of what they hold. */
const namedTiles = (tiles: ReadonlyMap<string, Uint16Array<ArrayBuffer>>): Promise<StrokeTile[]> =>
  Promise.all(
    [...tiles].map(async ([place, words]) => {
      const bytes = new Uint8Array(words.buffer)
      return { place, bytes, name: await contentName(bytes) }
    }),
  )

/** What unfolds WOFF2 makes code of its own as it begins, which no page of ours allows: our server does it. */
const unfoldWoff2 = async (bytes: Uint8Array): Promise<Uint8Array> => {
  const found = await fetch('/unfold-font', { method: 'POST', body: new Uint8Array(bytes) })
  if (!found.ok) throw new Error(await found.text())
  return new Uint8Array(await found.arrayBuffer())
}

async function answer(message: SheetRequest, tell: (share01: number) => void): Promise<SheetReply> {
  const { request } = message
  const done = { request, type: 'done' } as const
  const missing = { request, type: 'missing' } as const
  const raster = (
    { width, height }: { width: number; height: number },
    rgba: Uint8ClampedArray<ArrayBuffer>,
  ): SheetReply => ({ request, type: 'raster', width, height, rgba })
  switch (message.type) {
    case 'sheet':
      painter.takeSheet(message.sheet, message.beside)
      return done
    case 'patch':
      painter.patchSheet(message.changes, message.beside)
      return done
    case 'newest':
      told = message.numbers
      painter.prepare()
      return done
    case 'pass': {
      const { passId, result, revision, shotId } = message
      painter.takePass(passId, result && { result, revision, shotId })
      return done
    }
    case 'lights': {
      const { passId, lights, surfaces, revision } = message
      const known = passes.get(passId)
      if (!known) return done
      const facts = message.facts ?? known.result.facts
      painter.relight(passId, { ...known, result: { ...known.result, lights, surfaces, facts }, revision })
      return done
    }
    case 'picture': {
      const picture = await decodePicture(message.bytes, message.name)
      painter.takePicture(message.pictureId, { picture, revision: ++pictureCount })
      return done
    }
    case 'font': {
      const { fontId, files } = message
      painter.takeFont(
        fontId,
        await Promise.all(files.map(({ name, bytes }) => decodeFont(bytes, name, unfoldWoff2))),
      )
      return done
    }
    case 'drop-font':
      painter.takeFont(message.fontId, null)
      return done
    case 'font-facts': {
      const [file] = store.resources.font(message.fontId) ?? []
      return file ? { request, type: 'font-facts', facts: fontFacts(file) } : missing
    }
    case 'type-layout': {
      const set = painter.typeLayout(message.layerId)
      return set ? { request, type: 'type-layout', set } : missing
    }
    case 'reads': {
      const reads = painter.reads(message.layerId)
      return reads ? { request, type: 'reads', reads } : missing
    }
    case 'part-depths': {
      const [idPass, depthPass] = (['id', 'depth'] as const).map(
        (kind) => store.shotPass(message.shotId, kind)?.result,
      )
      if (!idPass || !depthPass) return missing
      const parts = partDepths(idPass, depthPass).map((part) => ({
        ...part,
        silhouette: partSilhouette(idPass, part, message.side),
      }))
      return { request, type: 'part-depths', parts }
    }
    case 'paint-tile':
      painter.takePaint(message.name, message.bytes)
      return done
    case 'brush-sample':
      return raster(message.size, desk.sample(message.brush, message.size))
    case 'stroke-begin':
      desk.begin(message.stroke, message.of, painter.document)
      return done
    case 'stroke-add':
      return {
        request,
        type: 'stroke-tip',
        tip: desk.add(message.stroke, readSamples(message.samples)),
        shown: await showPainted(),
      }
    case 'stroke-end': {
      const tiles = await desk.end(message.stroke, readSamples(message.samples).at(-1) ?? null)
      for (const { name, bytes } of tiles) if (name !== null && bytes) painter.takePaint(name, bytes)
      desk.settle(message.stroke, tiles)
      return { request, type: 'stroke-tiles', tiles }
    }
    case 'stroke-forget':
      desk.forget(message.stroke)
      return done
    case 'check-picture': {
      const { width, height, pixels } = await decodePicture(message.bytes, message.name)
      return { request, type: 'size', width, height, premultiplied: isPremultiplied(pixels) }
    }
    case 'read-layers': {
      const { name, bytes } = message
      return { request, type: 'layers', file: await readOpenRaster(bytesSource(bytes), name, tell) }
    }
    case 'picture-size': {
      const found = pictures.get(message.pictureId)?.picture
      return found ? { request, type: 'size', width: found.width, height: found.height } : missing
    }
    case 'drop-picture':
      painter.takePicture(message.pictureId, null)
      return done
    case 'drop-paint':
      painter.dropPaint(message.names)
      return done
    case 'canvas': {
      const { view, canvas, size, window } = message
      views.set(view, viewOn(canvas, size, window, painter.canShare, views.get(view)))
      return done
    }
    case 'show':
      return show(message, tell)
    case 'close-view':
      views.delete(message.view)
      lastAsked.delete(message.view)
      return done
    case 'snapshot': {
      const view = message.view === null ? null : views.get(message.view)
      const { sheet } = painter
      const scale = Math.max(message.size.width / sheet.width, message.size.height / sheet.height)
      const size = { width: Math.round(sheet.width * scale), height: Math.round(sheet.height * scale) }
      const bytes =
        view === null
          ? await snapshot(
              await createImageBitmap(new ImageData(painter.picture(size), size.width, size.height)),
              message.size,
            )
          : view && (await viewSnapshot(view, message.size))
      return bytes ? { request, type: 'file', bytes } : missing
    }
    case 'thumbnail': {
      const rgba = painter.layerPicture(message.layerId, message.small)
      return rgba ? raster(message.small, rgba) : missing
    }
    case 'try-effect': {
      const rgba = painter.triedPicture(message.layerId, message.effect, message.small)
      return rgba ? raster(message.small, rgba) : missing
    }
    case 'sheet-picture':
      return raster(message.small, painter.picture(message.small, message.sheet))
    case 'scopes': {
      const scopes = painter.scopes(message.of, message.layerId, message.effectId)
      return scopes ? { request, type: 'scopes', scopes } : missing
    }
    case 'effect-input': {
      const input = painter.effectInput(message.layerId, message.effectId)
      const rgb = input && colourAt(input, message.x, message.y)
      return rgb ? { request, type: 'colour', rgb } : missing
    }
    case 'map-at': {
      const value = painter.mapAt(message.map, message.id, message.x, message.y)
      return value === null ? missing : { request, type: 'number', value }
    }
    case 'match-tones': {
      const picture = await decodePicture(message.bytes, message.name)
      const input = painter.effectInput(message.layerId, message.effectId)
      const params = input && tonesToMatch(input.rgba, toStraight8(picture.pixels))
      return params ? { request, type: 'params', params } : missing
    }
    case 'tone-histogram': {
      const tones = painter.tones(message.layerId, message.side)
      return tones ? { request, type: 'tones', tones } : missing
    }
    case 'contributions': {
      const found = painter.contributions(message.x, message.y)
      return found ? { request, type: 'contributions', ...found } : missing
    }
    case 'pass-picture': {
      const found = passes.get(message.passId)?.result
      if (!found) return missing
      const { part, look, byHand, size } = message
      // A pass rendered at another size is shown whole and in its own proportions: its pixels are not the shot's.
      if (part && hasSize(found, part.of))
        return raster(size, toStraight8(premultiplied(passPart(found, look, part.rect, size, byHand))))
      const placed = passPlacement(found, size, { fit: 'extend' })
      const whole = { x: 0, y: 0, ...size }
      const pixels =
        layWindow(placed, whole, 4, (inside) => passWindow(found, look, placed, inside, byHand)) ??
        new Float32Array(4 * size.width * size.height)
      return raster(size, toStraight8(premultiplied({ ...size, pixels })))
    }
    case 'lines-file': {
      const found = passes.get(message.passId)?.result
      const strokes = found && passStrokes(found, message.look, message.byHand)
      if (!found?.drawing || !strokes) return missing
      const { width, height, drawing } = found
      const text = writeSvgLines(drawing, strokes, { width, height, heightMm: message.heightMm ?? undefined })
      return { request, type: 'file', bytes: new TextEncoder().encode(text) }
    }
    case 'lines-beneath': {
      const drawing = passes.get(message.passId)?.result.drawing
      if (!drawing) return missing
      return { request, type: 'parts', keys: partsBeneath(drawing, message.path, message.radius) }
    }
    case 'paint-bytes':
      return {
        request,
        type: 'paint-bytes',
        tiles: message.names.flatMap((name) => {
          const words = store.paint.get(name)
          return words ? [{ name, bytes: new Uint8Array(Uint16Array.from(words).buffer) }] : []
        }),
      }
    case 'carry-over': {
      const { grid, from, to } = message
      const paintTile = (name: string) => store.resources.paintTile(name)
      const { carried, left, leftShare } = carryOver(grid, paintTile, from, to, tell)
      return {
        request,
        type: 'carried',
        carried: await namedTiles(carried),
        left: await namedTiles(left),
        leftShare,
      }
    }
    case 'line-between': {
      const { passIds, from, to, radius } = message
      const { sheet } = painter
      for (const id of passIds) {
        const found = passes.get(id)?.result
        if (!found?.drawing) continue
        const placed = passPlacement(found, sheet, sheet)
        const inPicture = ([x, y]: readonly [number, number]): readonly [number, number] => [
          (x - placed.x) / placed.height,
          (y - placed.y) / placed.height,
        ]
        const way = alongLine(found.drawing, inPicture(from), inPicture(to), radius / placed.height)
        if (way.length === 0) continue
        const points = way.map(
          ([x, y]) => [placed.x + x * placed.height, placed.y + y * placed.height] as const,
        )
        return { request, type: 'way', points }
      }
      return { request, type: 'way', points: [] }
    }
    case 'grown-lines': {
      const { sheet } = painter
      const content = sheet.nodes[message.layerId]?.content
      if (content?.kind !== 'cracks' || content.lines.length === 0) return missing
      const { width, height } = sheet
      const { lines } = grownStrokes(content, sheet)
      const text = writeSvgLines(null, lines, { width, height, heightMm: message.heightMm ?? undefined })
      return { request, type: 'file', bytes: new TextEncoder().encode(text) }
    }
    case 'pick': {
      const found = store.shotPass(message.shotId, 'id')?.result
      const { sheet } = message
      const [x, y] = found ? toPicturePoint(message.x01, message.y01, found, sheet, sheet) : [-1, -1]
      const isInside = x >= 0 && x < 1 && y >= 0 && y < 1
      const surface = found && isInside ? surfaceAt(found, x * found.width, y * found.height) : null
      const depth = store.shotPass(message.shotId, 'depth')?.result
      const lies =
        message.camera && found && depth && isInside
          ? surfacePlane(found, depth, message.camera, x * found.width, y * found.height)
          : null
      return { request, type: 'picked', surface, hasIdPass: found !== undefined, plane: lies?.plane ?? null }
    }
    case 'export': {
      const { format, size, mean, transparent, crop, dpi, packing } = message
      const options = { ...size, transparent, crop, dpi, packing }
      const blob = await blobOf(painter.file(format, options, tell, mean))
      return { request, type: 'blob', blob }
    }
    case 'poster-svg': {
      const text = posterSvg(painter.document, message.paper, message.title, store.resources)
      return { request, type: 'file', bytes: new TextEncoder().encode(text) }
    }
    case 'poster-pdf':
      return { request, type: 'file', bytes: await painter.pdf(message.paper, message.options, tell) }
    default:
      return assertNever(message)
  }
}

/** Bytes that are gathered here before the browser takes them: it keeps what is large where there is room for it. */
const PIECE_BYTES = 16 * 2 ** 20

/** A file of many pieces, which is never in this thread's memory as a whole. */
async function blobOf(pieces: AsyncIterable<Uint8Array>): Promise<Blob> {
  const blobs: Blob[] = []
  let held: Uint8Array[] = []
  let bytes = 0
  const hand = () => {
    blobs.push(new Blob([joinBytes(held)]))
    held = []
    bytes = 0
  }
  for await (const piece of pieces) {
    held.push(piece)
    bytes += piece.length
    if (bytes >= PIECE_BYTES) hand()
  }
  hand()
  return new Blob(blobs)
}

/** The mean of what lies about a place, where it is not clear. */
function colourAt(
  {
    width,
    height,
    rgba,
  }: { readonly width: number; readonly height: number; readonly rgba: ArrayLike<number> },
  x01: number,
  y01: number,
): readonly [number, number, number] | null {
  const [x, y] = [Math.floor(x01 * width), Math.floor(y01 * height)]
  let [r, g, b, count] = [0, 0, 0, 0]
  for (let dy = -1; dy <= 1; dy++)
    for (let dx = -1; dx <= 1; dx++) {
      const [px, py] = [x + dx, y + dy]
      if (px < 0 || py < 0 || px >= width || py >= height) continue
      const i = 4 * (py * width + px)
      const alpha = rgba[i + 3] / 255
      r += rgba[i] * alpha
      g += rgba[i + 1] * alpha
      b += rgba[i + 2] * alpha
      count += alpha
    }
  return count > 0.5 ? [r / count, g / count, b / count] : null
}

/** Rank of each request; those that bring what later ones rely on have none. */
const RANK: Readonly<Record<SheetRequest['type'], number | null>> = {
  pass: null,
  lights: null,
  picture: null,
  'drop-picture': null,
  'drop-paint': null,
  font: null,
  'drop-font': null,
  'font-facts': RANKS.pick,
  'type-layout': RANKS.pick,
  reads: RANKS.card,
  'part-depths': RANKS.card,
  'paint-tile': null,
  'brush-sample': RANKS.card,
  'stroke-begin': RANKS.document,
  'stroke-add': RANKS.document,
  'stroke-end': RANKS.document,
  'stroke-forget': RANKS.document,
  newest: RANKS.document,
  sheet: RANKS.document,
  patch: RANKS.document,
  canvas: RANKS.document,
  show: RANKS.view,
  pick: RANKS.pick,
  'lines-beneath': RANKS.pick,
  'picture-size': RANKS.pick,
  'check-picture': RANKS.card,
  'read-layers': RANKS.file,
  snapshot: RANKS.card,
  // After the picture of it that was asked for last.
  'close-view': RANKS.card,
  thumbnail: RANKS.card,
  'try-effect': RANKS.card,
  'sheet-picture': RANKS.card,
  scopes: RANKS.card,
  'effect-input': RANKS.pick,
  'map-at': RANKS.pick,
  'match-tones': RANKS.card,
  'tone-histogram': RANKS.card,
  contributions: RANKS.pick,
  'pass-picture': RANKS.card,
  'lines-file': RANKS.file,
  'paint-bytes': RANKS.file,
  'carry-over': RANKS.file,
  'line-between': RANKS.pick,
  'grown-lines': RANKS.file,
  export: RANKS.file,
  'poster-pdf': RANKS.file,
  'poster-svg': RANKS.file,
}

/** What of a reply is moved, not copied. */
function bulkOf(reply: SheetReply): readonly unknown[] {
  switch (reply.type) {
    case 'raster':
      return [reply.rgba]
    case 'file':
      return [reply.bytes]
    // Where memory is shared, what was painted lies in that.
    case 'stroke-tiles':
      return canShare ? reply.tiles.map(({ bytes }) => bytes) : []
    case 'carried':
      return [...reply.carried, ...reply.left].map(({ bytes }) => bytes)
    default:
      return []
  }
}

const serve = answerRequests(
  (message) => sheetRequestSchema.parse(message),
  async (message, tell) => {
    const reply = await answer(message, tell)
    return { reply, transfer: movable(bulkOf(reply)) }
  },
  (reply, transfer) => self.postMessage(reply, { transfer }),
)

/** As much of a message as tells when it is to be served. */
const heardSchema = z.object({
  type: z.string(),
  view: z.number().catch(-1),
  number: z.number().catch(-1),
})

self.onmessage = ({ data }: MessageEvent<unknown>) => {
  const heard = heardSchema.safeParse(data).data
  if (heard?.type === 'show' && heard.view in newest)
    newest[heard.view] = Math.max(newest[heard.view], heard.number)
  // What means nothing is refused when its turn comes.
  const rank = RANK[heard?.type as SheetRequest['type']] ?? null
  if (rank === null) queue.addBarrier(() => serve(data))
  else queue.add(rank, () => serve(data))
}
