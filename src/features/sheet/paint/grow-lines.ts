import type { Point } from '@/core/paint/led-way'
import { MOST_SEED_POINTS, MOST_SEEDS } from '@/core/sheet/contents/cracks'
import { contentOf, newLayer } from '@/core/sheet/new-layer'
import type { Mask } from '@/core/sheet/sheet-schema'
import { passKind } from '@/core/passes/registry'
import { insertNode, layersOf } from '@/core/sheet/sheet-tree'
import { suggestedName } from '@/core/sheet/suggested-name'
import { isSurfaceTerm } from '@/core/sheet/terms/registry'
import { activeSheet } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import type { Project } from '@/data/project-schema'
import { changeProject, useProjectStore } from '@/state/project-store'
import { setBench, useViewStore } from '@/state/view-store'
import { lockedAbove, placeInFront } from '../layer-actions'
import { fewerPoints } from '../line-brush'
import { withinAt } from './stay-within'

/** Shorter than this a line grows nothing. Sheet pixels. */
const SHORTEST = 4

/**
 * Grows cracks from a line: on the chosen layer if it is one of cracks, else on a new one, inside what the line began on where
 * strokes stay so.
 * @throws {Error} why it cannot, in words.
 */
export async function growFrom(way: readonly Point[]): Promise<void> {
  const { project } = useProjectStore.getState()
  const length = way.slice(1).reduce((sum, [x, y], i) => sum + Math.hypot(x - way[i][0], y - way[i][1]), 0)
  if (!project || length < SHORTEST) return
  const sheet = activeSheet(project)
  const { width, height } = sheet
  const whole = way.flatMap(([x, y]) => [x / height, y / height])
  let flat = whole
  // As many points as a line may have: a long scribble is followed less closely, not cut off.
  for (let tolerance = 0.0008; flat === whole || flat.length > 2 * MOST_SEED_POINTS; tolerance *= 2)
    flat = fewerPoints(whole, tolerance)
  const line = Array.from({ length: flat.length / 2 }, (_, i): [number, number] => [
    (flat[2 * i] * height) / width,
    flat[2 * i + 1],
  ])
  const within = (await withinAt(way[0][0] / width, way[0][1] / height))?.mask ?? null
  const { layerId } = useViewStore.getState()
  const chosen = layerId === null ? undefined : sheet.nodes[layerId]
  if (chosen?.content.kind === 'cracks') {
    const locked = lockedAbove(sheet, chosen.id)
    if (locked) throw new Error(`${locked.name} is locked: unlock it to draw on it.`)
    if (chosen.content.lines.length >= MOST_SEEDS)
      throw new Error(`${chosen.name} has ${MOST_SEEDS} lines, as many as a layer can hold: begin another.`)
    changeProject('grow cracks', (draft) => {
      const node = activeSheet(draft).nodes[chosen.id]
      if (node.content.kind === 'cracks') node.content.lines.push(line)
      if (node.mask && within) addPlaces(node.mask, within)
    })
    return
  }
  const content = contentOf('cracks', { ...lineStyleNow(project), lines: [line] })
  const plain = newLayer({ id: newId(), name: '', content })
  const layer = { ...plain, name: suggestedName(plain) ?? 'Cracks', mask: within }
  changeProject('grow cracks', (draft) => insertNode(activeSheet(draft), layer, placeInFront(sheet)))
  setBench({ layerId: layer.id, peel: Infinity })
}

/** Colour and weight of the frontmost lines that the sheet shows: what grows is drawn as they are. */
function lineStyleNow(project: Project): { colour?: string; weight?: number } {
  const shown = layersOf(activeSheet(project)).filter(
    ({ visible, content }) =>
      visible &&
      content.kind === 'pass' &&
      project.passes.some(({ id, kind }) => id === content.passId && passKind(kind).lines),
  )
  const content = shown.at(-1)?.content
  if (content?.kind !== 'pass') return {}
  const { colour, weight } = content.look
  return {
    ...(typeof colour === 'string' && { colour }),
    ...(typeof weight === 'number' && { weight: Math.min(20, Math.max(0.2, 1.4 * weight)) }),
  }
}

/** What a line began on is shown by the mask of its layer too. */
function addPlaces(mask: Mask, within: Mask): void {
  for (const term of within.terms) {
    if (!isSurfaceTerm(term)) continue
    const own = mask.terms.find((held) => held.kind === term.kind && !held.invert)
    if (!own || !isSurfaceTerm(own)) continue
    for (const key of term.keys) if (!own.keys.includes(key)) own.keys.push(key)
  }
}
