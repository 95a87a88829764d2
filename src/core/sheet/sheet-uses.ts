import type { PassKindName } from '../passes/registry'
import { SHOT_MAPS, type MapRequest } from '../passes/shot-maps'
import type { EffectWork } from '../effects/effect-kind'
import { contentShotPasses, contentUses } from './contents/registry'
import { effectWork } from './evaluate/effect-works'
import type { Mask, Sheet, SheetEffect } from './sheet-schema'
import { isSurfaceTerm, termMaps, termUses } from './terms/registry'

/** What a sheet is made from. */
export interface SheetUses {
  /** Passes and pictures that it names. */
  readonly ids: ReadonlySet<string>
  /** Kinds of passes of its own shot that masks and effects go by without naming one. */
  readonly kinds: ReadonlySet<PassKindName>
  /** Layers of its own that masks and effects look at. */
  readonly layers: ReadonlySet<string>
}

/** Passes and pictures that a sheet needs to be painted. */
export function sheetUses({ nodes }: Pick<Sheet, 'nodes'>): SheetUses {
  const ids = new Set<string>()
  const kinds = new Set<PassKindName>()
  const layers = new Set<string>()
  const addMap = (request: MapRequest): void => {
    if (request.from === 'layer' || request.from === 'mask') layers.add(request.id)
    if (request.from === 'roles' || request.from === 'palette') kinds.add('id')
    if (request.from === 'nearer') kinds.add('id').add('depth')
    if (request.from !== 'shot') return
    if (request.id === '') kinds.add(SHOT_MAPS[request.map].pass)
    else ids.add(request.id)
  }
  const addWork = (work: EffectWork): void => {
    if ('maps' in work) work.maps?.forEach(addMap)
    if (work.by === 'colour') work.pictures?.forEach((id) => ids.add(id))
    if (work.by === 'point') work.beside?.forEach((works) => works.forEach(addWork))
  }
  const addMask = (mask: Mask | null): void => {
    for (const term of mask?.terms ?? []) {
      if (isSurfaceTerm(term)) kinds.add('id')
      termUses(term).forEach((id) => ids.add(id))
      termMaps(term).forEach(addMap)
    }
    if (mask) addEffects(mask.effects)
  }
  const addEffects = (effects: readonly SheetEffect[]): void => {
    for (const effect of effects) {
      const work = effectWork(effect)
      if (work) addWork(work)
      addMask(effect.mask)
    }
  }
  for (const { content, mask, effects } of Object.values(nodes)) {
    contentUses(content).forEach((id) => ids.add(id))
    contentShotPasses(content).forEach((kind) => kinds.add(kind))
    addMask(mask)
    addEffects(effects)
  }
  return { ids, kinds, layers }
}

/** Whether a sheet's picture takes rays of its own: what it shows at first, and while a hand moves, is then coarse. */
export const takesRays = ({ nodes }: Pick<Sheet, 'nodes'>): boolean =>
  Object.values(nodes).some(({ content, visible }) => visible && content.kind === 'mockup')
