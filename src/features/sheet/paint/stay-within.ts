import { SHOT_MAPS, type ShotMapName } from '@/core/passes/shot-maps'
import { newMask, newTerm, surfaceTerm } from '@/core/sheet/new-layer'
import type { Mask } from '@/core/sheet/sheet-schema'
import { passKind } from '@/core/passes/registry'
import { activeSheet, activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { useProjectStore } from '@/state/project-store'
import { askSheet } from '@/state/sheet-sync'
import { useViewStore } from '@/state/view-store'
import { usePaint } from './paint-store'

/** What a stroke stays in. */
export interface Within {
  readonly mask: Mask
  /** What it is called. */
  readonly name: string
  /** What tells it from others. */
  readonly word: string
}

/** Ranges that a stroke can stay in, about what there is where it starts. */
const RANGES = {
  depth: { term: 'depthRange', map: 'depth', pass: 'depth', name: 'the same depth', ends: [-1, 3] },
  facing: { term: 'facingRange', map: 'facing', pass: 'facing', name: 'what is turned so', ends: [0, 1] },
  occlusion: {
    term: 'occlusionRange',
    map: 'occlusion',
    pass: 'occlusion',
    name: 'what lies so open',
    ends: [0, 1],
  },
} as const satisfies Readonly<Record<string, { map: ShotMapName } & Record<string, unknown>>>

/** A range about a value: whole as far as `spread`, nothing from twice as far. */
function about(at: number, spread: number, [low, high]: readonly [number, number]) {
  const clip = (v: number) => Math.min(high, Math.max(low, v))
  // What differs by no more than a hand would is one range.
  const step = spread / 4
  const value = step > 0 ? Math.round(at / step) * step : at
  return [value - 2 * spread, value - spread, value + spread, value + 2 * spread].map(clip)
}

const masked = (...terms: Mask['terms']): Mask => ({ ...newMask(), terms })

/**
 * What a stroke stays in that begins at a place; null for everywhere. Shares of the sheet.
 * @throws {Error} what is missing for it, in words.
 */
export async function withinAt(x01: number, y01: number): Promise<Within | null> {
  const { stays, spread, chosen } = usePaint.getState()
  const { project } = useProjectStore.getState()
  if (stays === 'nothing' || !project) return null
  switch (stays) {
    case 'parts':
    case 'materials':
    case 'groups':
      return onSurface(project, stays, x01, y01)
    case 'chosen':
      if (chosen.length === 0) throw new Error('No part is chosen to stay in: tick some in the list.')
      return {
        mask: masked(surfaceTerm('parts', [...chosen])),
        name: 'the chosen parts',
        word: chosen.join(),
      }
    case 'mask': {
      const { layerId } = useViewStore.getState()
      const layer = layerId === null ? undefined : activeSheet(project).nodes[layerId]
      if (!layer?.mask) throw new Error('The chosen layer has no mask to stay in.')
      const mask = masked(newTerm('layerMask', { layer: layer.id, join: 'add' }))
      return { mask, name: `the mask of ${layer.name}`, word: `mask ${layer.id}` }
    }
    case 'brightness': {
      const { width, height } = activeSheet(project)
      const found = await askSheet(project, (worker) =>
        worker.contributions(Math.floor(x01 * width), Math.floor(y01 * height)),
      )
      if (!found) return null
      const [r, g, b, alpha] = found.colour
      const tone = (0.3 * r + 0.59 * g + 0.11 * b) * alpha
      const range = about(tone, spread, [0, 1])
      const mask = masked(newTerm('brightnessRange', { range, join: 'add' }))
      return { mask, name: 'what is as bright', word: `brightness ${range.join()}` }
    }
    case 'behind': {
      const depth = await mapAt(project, 'depth', x01, y01)
      const part = await onSurface(project, 'parts', x01, y01)
      const from = Math.min(2.9, depth)
      const range = [from, from + Math.max(0.002, 0.1 * spread), 3, 3]
      const farther = newTerm('depthRange', { range, join: 'add' })
      // On the background there is nothing that it could lie behind.
      if (part.mask.invert) return part
      const others = part.mask.terms.map((term) => ({ ...term, join: 'subtract' as const }))
      return { mask: masked(farther, ...others), name: `behind ${part.name}`, word: `behind ${part.word}` }
    }
    default: {
      const { term, map, name, ends } = RANGES[stays]
      const range = about(await mapAt(project, map, x01, y01), spread, ends)
      const mask = masked(newTerm(term, { range, join: 'add' }))
      return { mask, name, word: `${stays} ${range.join()}` }
    }
  }
}

async function mapAt(project: Project, map: ShotMapName, x: number, y: number): Promise<number> {
  const value = await askSheet(project, (worker) => worker.mapAt({ map, id: '', x, y }))
  if (value !== null) return value
  throw new Error(
    `Render the ${passKind(SHOT_MAPS[map].pass).label.toLowerCase()} pass first: a stroke stays by it.`,
  )
}

async function onSurface(
  project: Project,
  kind: 'parts' | 'materials' | 'groups',
  x01: number,
  y01: number,
): Promise<Within> {
  const found = await askSheet(project, (worker) =>
    worker.pick(activeShot(project).id, activeSheet(project), x01, y01),
  )
  if (!found.hasIdPass) throw new Error('Render the ID pass first: a stroke stays in a part by it.')
  const { surface } = found
  const [key, name] = surface
    ? {
        parts: [surface.part, surface.partName],
        materials: [surface.material, surface.materialName],
        groups: [surface.groups.at(-1), surface.groups.at(-1)],
      }[kind]
    : []
  // On the background a stroke stays out of every part.
  if (key === undefined || name === undefined) {
    const mask = { ...masked(newTerm('roles', { keys: ['subject', 'ground'], join: 'add' })), invert: true }
    return { mask, name: 'the background', word: 'background' }
  }
  return { mask: masked(surfaceTerm(kind, [key])), name, word: `${kind} ${key}` }
}
