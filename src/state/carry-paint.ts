import { paramDefaults } from '@/core/params'
import { isSameView, type CarryView } from '@/core/paint/carry-over'
import { passKind } from '@/core/passes/registry'
import { decodeChannel } from '@/core/picture/channel'
import { namedChannels } from '@/core/passes/pass-result'
import type { PassResult } from '@/core/passes/pass-result'
import type { Camera, Frame } from '@/core/scene/camera'
import { seenByNow } from '@/core/sheet/contents/painted'
import { newLayer } from '@/core/sheet/new-layer'
import { passPlacement } from '@/core/sheet/pass-placement'
import { insertNode, placeOf } from '@/core/sheet/sheet-tree'
import { hasContent, type SheetNode } from '@/core/sheet/sheet-schema'
import { activeSheet, activeShot, rigOf } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import type { Project } from '@/data/project-schema'
import { storePaint } from '@/data/storage-service'
import type { StrokeTile } from '@/engine/stroke-messages'
import { longWork } from './long-work'
import { previewFrame } from './live-preview'
import { changeProject, useProjectStore } from './project-store'
import { renderLive } from './render-queue'
import { carryOverPaint } from './sheet-sync'

/** Depths are asked for no more finely than that. Pixels. */
const MOST_PIXELS = 4096 * 2048

/** Whether the shot has moved since a layer was painted. */
export const hasShotMoved = (project: Project, { content }: SheetNode): boolean =>
  content.kind === 'painted' &&
  content.seenBy !== undefined &&
  Object.keys(content.tiles).length > 0 &&
  !isSameView(content.seenBy, activeShot(project))

/** How far away everything is that is seen from a camera: one sample in the middle of each pixel. */
async function depthsOf(
  project: Project,
  camera: Camera,
  frame: Frame,
  signal: AbortSignal,
): Promise<Float32Array> {
  const params = paramDefaults(passKind('depth').renderSchema)
  const request = {
    camera,
    frame,
    rig: rigOf(project, activeShot(project)),
    orders: [{ kind: 'depth' as const, params, effort: { samples: 1, rays: 0 } }],
    seed: 0,
    preview: false,
  }
  let found: PassResult | null = null
  const isWhole = await renderLive(project, request, (_order, _rect, result) => (found = result), signal)
  signal.throwIfAborted()
  const result = found as PassResult | null
  if (!isWhole || !result)
    throw new Error('Passes are being rendered: carry the paint over when they are done.')
  const channels = namedChannels(result)
  const [z, a] = ['Z', 'A'].map((name) => channels.find((own) => own.name === name))
  const [depths, covered] = [0, 1].map(() => new Float32Array(frame.width * frame.height))
  if (z) decodeChannel(z, 0, depths.length, depths)
  if (a) decodeChannel(a, 0, covered.length, covered)
  for (let i = 0; i < depths.length; i++) if (covered[i] <= 0) depths[i] = 0
  return depths
}

/**
 * Carries a painted layer over to the shot as it is now: what was painted on a part follows it. What cannot be carried over is kept
 * on a layer of its own, hidden.
 * @returns what came of it, in words; null when it was cancelled.
 */
export async function carryPaintOver(layerId: string): Promise<string | null> {
  const { project } = useProjectStore.getState()
  const sheet = project && activeSheet(project)
  const layer = sheet?.nodes[layerId]
  if (!project || !layer || !hasContent(layer, 'painted')) return null
  const { width, height, tiles, seenBy } = layer.content
  if (!seenBy) return null
  const shot = activeShot(project)
  const now = { camera: shot.camera, frame: shot.frame }
  const found = await longWork('Carrying the paint over', async (signal, tell) => {
    const view = async ({ camera, frame: whole }: typeof now): Promise<CarryView> => {
      const frame = previewFrame(whole, whole.width, MOST_PIXELS)
      const depths = await depthsOf(project, camera, frame, signal)
      return { camera, frame, depths, placed: passPlacement(whole, { width, height }, sheet) }
    }
    const from = await view(seenBy)
    tell(0.2)
    const to = await view(now)
    tell(0.4)
    const message = { grid: { width, height, tiles }, from, to }
    return carryOverPaint(project, message, (share) => tell(0.4 + 0.6 * share), signal)
  })
  if (!found) return null
  const { carried, left, leftShare } = found
  // Strokes that were made meanwhile stay: they would be taken back by what was found without them.
  const meanwhile = useProjectStore.getState().project
  const same = meanwhile?.id === project.id ? activeSheet(meanwhile).nodes[layerId] : undefined
  if (same?.content.kind !== 'painted' || same.content.tiles !== tiles)
    throw new Error(`${layer.name} was changed meanwhile: carry it over again.`)
  const named = (some: readonly StrokeTile[]) =>
    Object.fromEntries(some.flatMap(({ place, name }) => (name === null ? [] : [[place, name]])))
  await storePaint(
    project.id,
    [...carried, ...left].flatMap(({ name, bytes }) => (name !== null && bytes ? [{ name, bytes }] : [])),
  )
  const rest = newLayer({
    id: newId(),
    name: `${layer.name}, not carried over`,
    visible: false,
    marker: 'ochre',
    content: { kind: 'painted', version: 1, width, height, tiles: named(left), seenBy },
  })
  changeProject('carry the paint over', (draft) => {
    const own = activeSheet(draft)
    const node = own.nodes[layerId]
    if (node.content.kind !== 'painted') return
    node.content.tiles = named(carried)
    node.content.seenBy = seenByNow(now)
    const place = placeOf(own, layerId)
    if (left.length > 0 && place) insertNode(own, rest, { ...place, index: place.index + 1 })
  })
  return left.length === 0
    ? `All of ${layer.name} follows what it was painted on.`
    : `${Math.max(1, Math.round(100 * leftShare))} % of ${layer.name} is out of sight now: it is kept on “${rest.name}”.`
}
