import { parseHex } from '@/core/math/colour'
import type { PaintPlace } from '@/core/paint/live-paint'
import { seenByNow } from '@/core/sheet/contents/painted'
import { newLayer, newMask, newTerm } from '@/core/sheet/new-layer'
import type { Mask, SheetNode } from '@/core/sheet/sheet-schema'
import { insertNode } from '@/core/sheet/sheet-tree'
import { activeSheet, activeShot } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import type { ProjectSheet } from '@/data/project-schema'
import type { Stroke } from '@/engine/stroke-messages'
import { changeProject, useProjectStore } from '@/state/project-store'
import { askSheet } from '@/state/sheet-sync'
import { setBench, useViewStore } from '@/state/view-store'
import { lockedAbove, placeInFront } from '../layer-actions'
import { mixedColour } from './mix-colours'
import { withinAt } from './stay-within'
import { brushInHand, PAINT_TOOLS, setPaint, usePaint } from './paint-store'

const RECENT = 12

const sheetNow = (): ProjectSheet | null => {
  const { project } = useProjectStore.getState()
  return project && activeSheet(project)
}

/** A layer to paint on, of the sheet's size, in front of the one at work. @returns its id. */
export function addPaintedLayer(): string | null {
  const { project } = useProjectStore.getState()
  const sheet = sheetNow()
  if (!project || !sheet) return null
  const id = newId()
  const { width, height } = sheet
  const count = Object.values(sheet.nodes).filter(({ content }) => content.kind === 'painted').length
  const seenBy = seenByNow(activeShot(project))
  const content = {
    kind: 'painted',
    version: 1,
    width,
    height,
    tiles: {},
    seenBy,
  } as const
  const layer = newLayer({ id, name: count === 0 ? 'Paint' : `Paint ${count + 1}`, content })
  const place = placeInFront(sheet)
  changeProject('add a painted layer', (draft) => insertNode(activeSheet(draft), layer, place))
  setBench({ layerId: id, peel: Infinity })
  return id
}

/** The painted term of a layer's mask, or of an effect's: the last one, or a new one that hides nothing yet. */
function maskPlace(sheet: ProjectSheet, { id, mask: own, effects }: SheetNode): PaintPlace {
  const { onEffect } = usePaint.getState()
  const effect = effects.find((one) => one.id === onEffect)
  const mask = effect ? effect.mask : own
  const place = { layerId: id, ...(effect && { effectId: effect.id }) }
  const at = mask?.terms.findLastIndex(({ kind }) => kind === 'painted') ?? -1
  if (at >= 0) return { ...place, term: at }
  const { width, height } = sheet
  const term = newTerm('painted', { width, height, tiles: {}, outside: true, join: 'intersect' })
  changeProject('paint the mask', (draft) => {
    const node = activeSheet(draft).nodes[id]
    const masked = effect ? node.effects.find((one) => one.id === effect.id) : node
    if (!masked) return
    masked.mask ??= newMask()
    masked.mask.terms.push(term as Mask['terms'][number])
  })
  return { ...place, term: mask?.terms.length ?? 0 }
}

/** Where the tool at hand paints, made where there is nothing yet. @throws {Error} why it cannot, in words. */
function placeToPaint(): PaintPlace {
  const { tool } = usePaint.getState()
  const sheet = sheetNow()
  const { layerId } = useViewStore.getState()
  const layer = sheet && layerId !== null ? (sheet.nodes[layerId] as SheetNode | undefined) : undefined
  if (!sheet || !tool) throw new Error('There is no sheet to paint on.')
  const locked = layer && lockedAbove(sheet, layer.id)
  if (locked) throw new Error(`${locked.name} is locked: unlock it to paint on it.`)
  const { label, on } = PAINT_TOOLS[tool]
  if (on === 'mask') {
    if (!layer) throw new Error(`${label}: choose the layer first.`)
    return maskPlace(sheet, layer)
  }
  if (layer?.content.kind === 'painted') return { layerId: layer.id, term: null }
  if (tool !== 'paint' && tool !== 'clone')
    throw new Error(`${label} works on a painted layer; Reveal takes any layer away, and nothing is lost.`)
  const id = addPaintedLayer()
  if (id === null) throw new Error('There is no sheet to paint on.')
  return { layerId: id, term: null }
}

/** Cloning that begins at a place of the sheet, in its pixels. @throws {Error} in words where it is not known what it is to paint. */
function cloneAct(x: number, y: number): Stroke['act'] {
  const { cloneFrom, cloneBy, cloneKeeps, cloneOf } = usePaint.getState()
  if (!cloneFrom) throw new Error('Clone: press Alt where it is to paint from first.')
  const sheet = sheetNow()
  if (cloneOf !== null && !sheet?.nodes[cloneOf])
    throw new Error('Clone: the layer that it paints from is gone; choose another.')
  const by = (cloneKeeps ? cloneBy : null) ?? ([cloneFrom[0] - x, cloneFrom[1] - y] as const)
  setPaint({ cloneBy: by })
  return { kind: 'clone', of: cloneOf, dx: by[0], dy: by[1] }
}

/** A brush that follows the form needs to know which way that faces. @throws {Error} in words where nobody does. */
async function needsForm(): Promise<void> {
  const { lies, turns } = brushInHand().params
  const { project } = useProjectStore.getState()
  if (!project || (lies === 0 && turns !== 'tilted' && turns !== 'curvature')) return
  const known = await askSheet(project, (worker) => worker.mapAt({ map: 'normalZ', id: '', x: 0.5, y: 0.5 }))
  if (known === null)
    throw new Error(
      'Render the normal pass first: the brush follows the form by it. Or let it not lie on the form.',
    )
}

/** A stroke of the tool and brush at hand that begins at a place of the sheet. @throws {Error} why it cannot, in words. */
export async function strokeAt(x01: number, y01: number, isLed = false): Promise<Stroke> {
  const state = usePaint.getState()
  const brush = brushInHand(state)
  const { tool, colours, mixed, range, mirrorX, mirrorY, recent } = state
  const place = placeToPaint()
  const sheet = sheetNow()
  const hex = mixedColour(colours, mixed)
  const [r, g, b] = parseHex(hex)
  const rgb: [number, number, number] = [r, g, b]
  const act = ((): Stroke['act'] => {
    switch (tool) {
      case 'reveal':
        return { kind: 'mask', value: 0 }
      case 'restore':
        return { kind: 'mask', value: 1 }
      case 'clone':
        return cloneAct(x01 * (sheet?.width ?? 0), y01 * (sheet?.height ?? 0))
      case 'erase':
      case 'smudge':
      case 'soften':
      case 'sharpen':
        return { kind: tool }
      case 'lighten':
      case 'darken':
      case 'tint':
        return { kind: tool, rgb, range: [...range] }
      default:
        return { kind: 'paint', rgb }
    }
  })()
  await needsForm()
  if (act.kind === 'paint')
    setPaint({ recent: [hex, ...recent.filter((own) => own !== hex)].slice(0, RECENT) })
  const { width = 0, height = 0 } = sheet ?? {}
  return {
    place,
    // A way that is led needs no steady hand: its corners stay corners.
    brush: isLed ? { ...brush, params: { ...brush.params, steady: 0 } } : brush,
    act,
    within: (await withinAt(x01, y01))?.mask ?? null,
    mirrors: { x: mirrorX ? width / 2 : null, y: mirrorY ? height / 2 : null },
    // Another stroke, another unevenness.
    seed: Math.floor(1e6 * Math.random()),
  }
}
