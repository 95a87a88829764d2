import { plural } from '../plural'
import type { MeshReport } from './mesh-report'
import type { Repair, RepairKindName } from './repairs/registry'

/** Something of a mesh worth telling, and what can be done about it. */
export interface Finding {
  readonly code: string
  /** In words with numbers, one sentence. */
  readonly text: string
  /** `fault` shows in pictures; `note` is good to know. */
  readonly level: 'fault' | 'note'
  /** What mends it in one press; null where nothing has to be or nothing can be. */
  readonly repair: Repair | null
}

const repair = (kind: RepairKindName, params: Repair['params'] = {}): Repair => ({
  kind,
  params,
  parts: null,
})

/** Diagonals, in metres, that things people draw have; beyond, another unit is likelier. */
const SMALLEST_M = 0.02
const MILLIMETRES_FROM = 400
const CENTIMETRES_FROM = 60

const three = (value: number): string => Number(value.toPrecision(3)).toLocaleString('en')

/** The unit a size looks to be in, were it drawn in metres; 1 where metres are as likely as any. */
export function likelyUnit(diagonal: number): { readonly name: string; readonly factor: number } | null {
  if (diagonal > MILLIMETRES_FROM) return { name: 'millimetres', factor: 0.001 }
  if (diagonal > CENTIMETRES_FROM) return { name: 'centimetres', factor: 0.01 }
  if (diagonal > 0 && diagonal < SMALLEST_M) return { name: 'kilometres or a very small thing', factor: 1000 }
  return null
}

/** What a report says that one would want to know, faults first. @param polygons how many the mesh has. */
export function findingsOf(report: MeshReport, polygons: number): Finding[] {
  const faults: Finding[] = []
  const notes: Finding[] = []
  const fault = (code: string, n: number, text: string, mend: Repair | null) => {
    if (n > 0) faults.push({ code, text, level: 'fault', repair: mend })
  }
  const note = (code: string, n: number | boolean, text: string, mend: Repair | null = null) => {
    if (n === true || Number(n) > 0) notes.push({ code, text, level: 'note', repair: mend })
  }

  const empty = report.facesWithoutArea + report.duplicateFaces
  const kinds = [
    ...(report.facesWithoutArea > 0 ? [`${plural(report.facesWithoutArea, 'polygon')} without area`] : []),
    ...(report.duplicateFaces > 0 ? [`${plural(report.duplicateFaces, 'polygon')} twice in one place`] : []),
  ]
  fault('empty-faces', empty, `There ${empty === 1 ? 'is' : 'are'} ${kinds.join(' and ')}.`, repair('clean'))
  fault(
    'turned-faces',
    report.facesToTurn,
    `${plural(report.facesToTurn, 'polygon looks', 'polygons look')} to the other side than ${report.facesToTurn === 1 ? 'its' : 'their'} neighbours, or into a closed form.`,
    repair('orient'),
  )
  fault(
    'normals-against',
    report.normalsAgainst,
    `${plural(report.normalsAgainst, 'normal points', 'normals point')} away from ${report.normalsAgainst === 1 ? 'its' : 'their'} polygon: shading would be dark there.`,
    repair('normals', { angleDeg: 35 }),
  )
  if (report.up === 'z')
    faults.push({
      code: 'lies-on-side',
      text: 'It seems to lie on its side: its flat foot looks along Z.',
      level: 'fault',
      repair: repair('up-axis', { axis: 'z' }),
    })

  note(
    'loose-vertices',
    report.looseVertices,
    `${plural(report.looseVertices, 'vertex is', 'vertices are')} used by no polygon.`,
    repair('loose'),
  )
  note(
    'double-vertices',
    report.duplicateVertices - report.looseVertices,
    `${plural(report.duplicateVertices, 'vertex lies', 'vertices lie')} where another one does. Edges count as joined there all the same.`,
    repair('weld', { distance: 0.0001 }),
  )
  note(
    'open-borders',
    report.borderEdges,
    `${plural(report.borderEdges, 'edge is', 'edges are')} an open border, in ${plural(report.openShells, 'piece')} of ${report.shells.toLocaleString('en')}.`,
  )
  note(
    'non-manifold',
    report.nonManifoldEdges,
    `${plural(report.nonManifoldEdges, 'edge joins', 'edges join')} more than two polygons. Lines and normals are kept apart there.`,
  )
  note(
    'one-sided',
    report.oneSidedShells,
    `${plural(report.oneSidedShells, 'piece has', 'pieces have')} one side only, like a band with a twist: no way round is right everywhere.`,
  )
  note(
    'only-triangles',
    report.triangles > 1 && report.triangles === polygons,
    'All polygons are triangles: wireframes will show the diagonals.',
    repair('quads', { angleDeg: 12 }),
  )
  if (report.bounds) {
    const size = report.bounds.max.map((v, axis) => v - (report.bounds?.min[axis] ?? 0))
    const unit = likelyUnit(Math.hypot(...size))
    note(
      'size',
      unit !== null,
      `It measures ${size.map(three).join(' × ')} units, which looks like ${unit?.name}.`,
      unit && repair('rescale', { factor: unit.factor }),
    )
  }
  return [...faults, ...notes]
}
