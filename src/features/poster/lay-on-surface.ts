import { hasContent, type SheetNode } from '@/core/sheet/sheet-schema'
import { newMask, surfaceTerm } from '@/core/sheet/new-layer'
import { activeSheet } from '@/data/active-shot'
import { planeCorners } from '@/data/laid-type'
import type { Project } from '@/data/project-schema'
import { paintedSheet } from '@/data/shown-sheets'
import { askSheet } from '@/state/sheet-sync'
import { setBench } from '@/state/view-store'
import { changeLayer } from '../sheet/layer-actions'
import { waitForPick } from '../sheet/proof-pick'

/** As wide as this share of the page a block begins on a surface. */
const WIDE = 0.4

/**
 * Waits for a press on the page and lays a block of type on the surface that is seen there, cut by what stands before it: it
 * shows on that part alone.
 */
export function layOnSurface(project: Project, layer: SheetNode): void {
  waitForPick({
    id: `surface ${layer.id}`,
    label: 'the surface that it is to lie on',
    take: (x, y) => void lay(project, layer, x, y),
  })
}

async function lay(project: Project, layer: SheetNode, x: number, y: number): Promise<void> {
  const sheet = activeSheet(project)
  const shot = project.shots.find(({ id }) => id === sheet.shotId)
  if (!shot || !hasContent(layer, 'type')) return
  const painted = paintedSheet(project, sheet)
  const { surface, plane } = await askSheet(project, (worker) =>
    worker.pick(shot.id, painted, x, y, shot.camera),
  )
  if (!surface || !plane) {
    setBench({
      refusal: surface
        ? 'Render the depth pass first: from it one knows how a surface lies.'
        : 'No surface is seen there.',
    })
    return
  }
  const begun = { at: [...plane.at] as V, normal: [...plane.normal] as V, width: 1, turnDeg: 0 }
  // One world unit is seen so wide there.
  const corners = planeCorners({ ...layer.content, plane: begun }, painted, shot)
  const seen = corners ? Math.hypot(corners[1][0] - corners[0][0], corners[1][1] - corners[0][1]) : 1
  changeLayer(layer.id, `lay it on ${surface.partName}`, (own) => {
    if (own.content.kind !== 'type') return
    delete own.content.corners
    delete own.content.way
    own.content.plane = { ...begun, width: Math.max(1e-4, WIDE / Math.max(1e-4, seen)) }
    const others = own.mask?.terms.filter(({ kind }) => kind !== 'standing' && kind !== 'parts') ?? []
    own.mask = own.mask ?? newMask()
    own.mask.terms = [surfaceTerm('parts', [surface.part]), ...others]
  })
}

type V = [number, number, number]
